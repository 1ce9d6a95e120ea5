# Brings what a fresh machine lacks. Sourced by start, test and bindu, from the project's root.
# Each function does nothing where its work is done already.

# Compiled Python is kept whatever the caller's habit: without it each process that is started
# compiles all sources again, which takes a second or more.
unset PYTHONDONTWRITEBYTECODE

say() { printf 'bindu: %s\n' "$*" >&2; }

# Debian packages whose programs are missing, installed together when we may. One call at a time: the
# package manager refuses a second.
need_programs() { # PROGRAM PACKAGE [PROGRAM PACKAGE …]
  local missing=()
  while [ $# -gt 0 ]; do
    PATH="$PATH:/usr/sbin" command -v "$1" >/dev/null || missing+=("$2")
    shift 2
  done
  [ ${#missing[@]} -gt 0 ] || return 0
  if [ "$(id -u)" != 0 ] || ! command -v apt-get >/dev/null; then
    say "Missing from Debian: ${missing[*]}. Install with apt-get install ${missing[*]} and start again."
    exit 1
  fi
  say "installing from Debian: ${missing[*]} …"
  {
    flock 9
    apt-get update -qq >&2 || true
    DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}" >&2 </dev/null || {
      say "${missing[*]} could not be installed; install by hand and start again."
      exit 1
    }
  } 9<scripts/setup.sh
}

# The server and the tool that makes its data folder; no service of the system is set up.
need_mariadb() { # and what else is given, as need_programs takes it
  need_programs mariadbd mariadb-server-core my_print_defaults mariadb-client-core "$@"
}

# Python packages, in the project's own folder, again when requirements.txt changes.
need_python() {
  local stamp=.venv/requirements.done
  cmp -s requirements.txt "$stamp" && return
  local python
  # Debian's own first: it is built to be fast, as one that stands before it may not be.
  for python in /usr/bin/python3.11 python3.11 python3; do
    "$python" -c 'import ensurepip, sys, venv; sys.exit(sys.version_info[:2] != (3, 11))' 2>/dev/null && break
    python=
  done
  [ -n "$python" ] || { say "Python 3.11 with venv is missing (Debian: python3, python3-venv)."; exit 1; }
  say "installing Python packages into .venv …"
  .venv/bin/python -c '' 2>/dev/null || "$python" -m venv --without-pip .venv
  install_quickly || pip_install -r requirements.txt || {
    say "Python packages could not be installed."
    exit 1
  }
  cp requirements.txt "$stamp"
}

# Python brings pip along in a file that runs as it is: to put it into .venv takes longer than the rest.
pip_install() {
  local pip
  pip=$(.venv/bin/python -c 'import ensurepip, sysconfig
from pathlib import Path
brought = sysconfig.get_config_var("WHEEL_PKG_DIR") or Path(ensurepip.__file__).parent / "_bundled"
print(*Path(brought).glob(f"pip-{ensurepip.version()}-*.whl"))')
  [ -n "$pip" ] || .venv/bin/python -m ensurepip >&2
  PYTHONPATH=$pip .venv/bin/python -m pip install -q --no-compile --disable-pip-version-check "$@" >&2
}

# By an installer that takes a fifth of pip's time. It knows nothing of how pip is set up here, so
# where it finds no packages, pip may.
install_quickly() {
  pip_install "$(grep '^uv==' requirements.txt)" &&
    .venv/bin/uv pip install -q --python .venv/bin/python -r requirements.txt >&2
}

# Node packages, in the project's own folder, again when package-lock.json changes. Whoever calls it
# meanwhile waits until they are there.
need_node() {
  local stamp=frontend/node_modules/.lock.done
  cmp -s frontend/package-lock.json "$stamp" && return
  command -v npm >/dev/null || need_programs npm npm
  {
    flock 8
    cmp -s frontend/package-lock.json "$stamp" && return
    say "installing Node packages into frontend/node_modules …"
    install_node_quickly || (cd frontend && npm ci --no-fund --no-audit --loglevel=error >&2) || {
      say "Node packages could not be installed."
      exit 1
    }
    cp frontend/package-lock.json "$stamp"
  } 8<frontend/package-lock.json
}

# By an installer that reads npm's own list and takes an eighth of npm's time. Where it fails, npm
# may.
install_node_quickly() {
  local machine by=$PWD/frontend/node_modules/.installer status=0
  machine=$(uname -m)
  rm -rf frontend/node_modules
  mkdir -p "$by"
  {
    npm install --prefix "$by" --fetch-retries=0 --no-fund --no-audit --loglevel=error "@oven/bun-linux-${machine/x86_64/x64-baseline}@1.4.5" &&
      (cd frontend && timeout 300 "$by"/node_modules/@oven/bun-*/bin/bun install --frozen-lockfile --no-save --ignore-scripts --linker=hoisted --silent)
  } >&2 || status=1
  rm -rf "$by"
  return "$status"
}

# The front end, built when it is older than its sources.
need_front_end() {
  local built=frontend/dist/index.html
  if [ -f "$built" ] && [ -z "$(find frontend docs/guide.md -path frontend/node_modules -prune -o -path frontend/dist -prune -o -type f -newer "$built" -print -quit)" ]; then
    return
  fi
  need_node
  say "building the front end …"
  (cd frontend && npm run -s build >&2) || { say "the front end could not be built."; exit 1; }
}
