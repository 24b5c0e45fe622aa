# Sets up what `start` and `test` need; sourced by both, from the project's folder.
# Each part is skipped where its inputs are the same as at the last successful time.

say() { printf '• %s\n' "$*"; }

stamp_of() { cat "$@" 2>/dev/null | sha256sum | cut -d' ' -f1; }

# once NAME STAMP COMMAND...: runs the command unless it succeeded before with the same stamp.
once() {
  local name=$1 stamp=$2
  shift 2
  mkdir -p var/setup
  if [ "$(cat "var/setup/$name" 2>/dev/null)" = "$stamp" ]; then
    return 0
  fi
  "$@" || return 1
  echo "$stamp" > "var/setup/$name"
}

# need_packages PROGRAM=PACKAGE...: Debian packages whose program is missing.
need_packages() {
  local missing=()
  for pair in "$@"; do
    command -v "${pair%%=*}" > /dev/null || PATH="$PATH:/usr/sbin" command -v "${pair%%=*}" > /dev/null || missing+=("${pair#*=}")
  done
  [ ${#missing[@]} -eq 0 ] && return 0
  if [ "$(id -u)" -ne 0 ]; then
    echo "Missing: ${missing[*]}. Install as root, then start again:" >&2
    echo "  apt-get update && apt-get install ${missing[*]}" >&2
    return 1
  fi
  say "Debian packages: installing ${missing[*]}"
  apt-get update -qq &&
    DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}" > /dev/null
}

# Debian's Python comes without what makes virtual environments.
need_venv() {
  python3 -c 'import ensurepip' 2> /dev/null || need_packages "python3 -m venv=python3-venv"
}

python_packages() {
  say "Python packages: installing from $1"
  [ -x .venv/bin/python ] || python3 -m venv .venv || return 1
  # What pip remarks on the way is of use only where it fails.
  { .venv/bin/pip install -q --disable-pip-version-check --require-hashes -r "$1" &&
    .venv/bin/pip install -q --disable-pip-version-check --no-deps -e .; } 2> var/setup/pip.log || {
    cat var/setup/pip.log >&2
    return 1
  }
}

front_end_packages() {
  say "Front end: installing packages"
  (cd frontend && npm ci --silent --no-audit --no-fund)
}

front_end_build() {
  say "Front end: building"
  (cd frontend && npx vite build --logLevel warn)
}

docs_build() {
  say "Documentation: building"
  NO_MKDOCS_2_WARNING=1 .venv/bin/mkdocs build -q --clean
}

compile_kernels() {
  say "Engine: compiling kernels (once, about a minute)"
  # Half of it beside the other half, and then what both may have missed.
  .venv/bin/nest-crate warm --part 0 --parts 2 &
  local half=$!
  .venv/bin/nest-crate warm --part 1 --parts 2 && wait "$half" && .venv/bin/nest-crate warm
}

sources_of() { find "$@" -type f -not -path '*/__pycache__/*' -print0 | sort -z | xargs -0 sha256sum; }

# set_up REQUIREMENTS [COMMAND...]: everything up to a built front end and compiled kernels, the two
# sides beside each other; a command is run on the front end's side once that is built.
set_up() {
  local requirements=$1
  shift
  # A group of its own, so that all of it can be ended: what runs beside does not hear Ctrl-C.
  set -m
  { set_up_front_end && "$@"; } < /dev/null &
  local front_end=$! failed=0
  set +m
  # npm hears no gentler signal; what it leaves half done is done anew, having no stamp.
  trap 'kill -KILL -- "-$front_end" 2> /dev/null; exit 130' INT TERM
  set_up_python "$requirements" || failed=1
  wait "$front_end" || failed=1
  trap - INT TERM
  return "$failed"
}

set_up_python() {
  once python "$(stamp_of "$1" pyproject.toml)" python_packages "$1" || return 1
  once docs "$(sources_of docs mkdocs.yml tools/docs_reference.py nest_crate/core/sound | sha256sum)" docs_build || return 1
  once kernels "$(sources_of nest_crate/core requirements.txt | sha256sum)" compile_kernels
}

set_up_front_end() {
  once npm "$(stamp_of frontend/package-lock.json)" front_end_packages || return 1
  once build "$(sources_of frontend/src frontend/scripts frontend/public frontend/index.html frontend/vite.config.ts frontend/package-lock.json | sha256sum)" front_end_build
}
