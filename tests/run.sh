# Tests in parallel. $1: the virtual environment's bin folder; then what pytest shall run, all without.
set -eu
bin=$1
shift
ZONATOME_TEST_HOME=$(mktemp -d)
trap 'rm -rf "$ZONATOME_TEST_HOME"' EXIT
export ZONATOME_TEST_HOME
export ZONATOME_HOME="$ZONATOME_TEST_HOME"
"$bin/python" -m pytest -n "${TEST_WORKERS:-2}" --dist loadfile --no-loadscope-reorder --durations=20 "$@"
