# Install Debian's Chromium, or say clearly why it can't be.
set -eu
if ! command -v apt-get >/dev/null; then
  echo "The browser tests need Chromium in the PATH as 'chromium', and this machine has no apt-get to install it with." >&2
  exit 1
fi
as_root=""
if [ "$(id -u)" != 0 ]; then
  if ! sudo -n true 2>/dev/null; then
    echo "The browser tests need Debian's Chromium: run 'sudo apt-get install chromium' once, then 'make test' again." >&2
    exit 1
  fi
  as_root="sudo -n"
fi
echo "Installing Debian's Chromium for the browser tests ..."
$as_root apt-get update -qq
DEBIAN_FRONTEND=noninteractive $as_root apt-get install -y -qq --no-install-recommends chromium-headless-shell >/dev/null ||
  DEBIAN_FRONTEND=noninteractive $as_root apt-get install -y -qq --no-install-recommends chromium >/dev/null
command -v chromium-headless-shell >/dev/null || command -v chromium >/dev/null
