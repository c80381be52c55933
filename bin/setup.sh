# Shared by bin/demo and bin/test: brings what they need onto the machine. Sourced, not run.
# Each function is silent where nothing is to do and leaves one clear line where it cannot go on.

give_up() { printf '%s\n' "$1" >&2; exit 1; }

# Node.js 20.15 or newer and npm.
need_node() {
  command -v node >/dev/null 2>&1 || give_up 'Node.js is missing. Install Node.js 20.15 or newer, then start again.'
  command -v npm >/dev/null 2>&1 || give_up 'npm is missing. Install it with Node.js, then start again.'
  node -e 'const [major, minor] = process.versions.node.split(".").map(Number); process.exit(major > 20 || (major === 20 && minor >= 15) ? 0 : 1)' ||
    give_up "Node.js $(node --version) is too old. Install Node.js 20.15 or newer, then start again."
}

# need_debian PROGRAM PACKAGE [PROGRAM PACKAGE …]: installs the packages whose program is missing.
need_debian() {
  local missing=''
  while [ $# -gt 1 ]; do
    if ! PATH="$PATH:/usr/sbin:/sbin" command -v "$1" >/dev/null 2>&1; then missing="$missing $2"; fi
    shift 2
  done
  [ -n "$missing" ] || return 0
  command -v apt-get >/dev/null 2>&1 || give_up "Missing:$missing. Install them with this system's own package manager, then start again."
  local as_root=''
  if [ "$(id -u)" -ne 0 ]; then
    command -v sudo >/dev/null 2>&1 || give_up "Missing:$missing. Installing needs root or sudo: run as root once, apt-get install$missing"
    sudo -n true 2>/dev/null || [ -t 0 ] || give_up "Missing:$missing. sudo asks for a password and there is no terminal: run once, sudo apt-get install$missing"
    as_root='sudo'
  fi
  printf '       installing Debian packages:%s\n' "$missing"
  local log; log=$(mktemp)
  if ! { $as_root apt-get update -qq && $as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends $missing; } >"$log" 2>&1; then
    tail -n 5 "$log" >&2; rm -f "$log"
    give_up "Debian packages could not be installed:$missing. Check the network, then start again; nothing is left running."
  fi
  rm -f "$log"
}

# npm packages as the lock file pins them; a stamp tells a complete installation from a torn one. Not `npm ci`: it refuses
# a lock file without the entries of every other platform, which not every registry offers (docs/decisions/0005).
need_modules() {
  local stamp=node_modules/.wexmar-lock want
  want=$(sha256sum package-lock.json | cut -d' ' -f1)
  if [ -f "$stamp" ] && [ "$(cat "$stamp")" = "$want" ]; then return 0; fi
  printf '       installing npm packages\n'
  local log; log=$(mktemp)
  if ! npm install --no-save --no-audit --no-fund >"$log" 2>&1; then
    grep -E '^npm (ERR|error)' "$log" | head -n 5 >&2; rm -f "$log"
    give_up 'npm packages could not be installed. Check the network, then start again; nothing is left running.'
  fi
  rm -f "$log"
  printf '%s' "$want" >"$stamp"
}
