# Migrations check, then all tests in parallel. $1: the virtual environment's bin folder.
set -eu
bin=$1
home=$(mktemp -d)
trap 'rm -rf "$home"' EXIT
export ZONATOME_HOME="$home" ZONATOME_PLAIN_STATIC=1
mkdir -p "$home/static"
"$bin/python" manage.py makemigrations --check --dry-run
"$bin/python" manage.py check
"$bin/python" -m pytest -n "${TEST_WORKERS:-2}" --dist loadfile
