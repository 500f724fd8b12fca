# Runs what follows with a data folder of its own, which goes when it ends.
set -eu
ZONATOME_TEST_HOME=$(mktemp -d)
trap 'rm -rf "$ZONATOME_TEST_HOME"' EXIT
export ZONATOME_TEST_HOME
export ZONATOME_HOME="$ZONATOME_TEST_HOME"
"$@"
