# The migrations against the models, Django's own checks, every test file read and kept compiled. $1: the virtual
# environment's bin folder.
set -eu
ZONATOME_TEST_HOME=$(mktemp -d)
trap 'rm -rf "$ZONATOME_TEST_HOME"' EXIT
export ZONATOME_TEST_HOME
export ZONATOME_HOME="$ZONATOME_TEST_HOME"
"$1/python" manage.py makemigrations --check --dry-run
"$1/python" manage.py check
found=$("$1/python" -m pytest --collect-only -qq 2>&1) || { echo "$found"; exit 1; }
