#!/usr/bin/env bash
# scripts/restore.sh FILE: a backup into an empty store; ./run then serves it, and links given before lead where they led.
. "$(dirname "${BASH_SOURCE[0]}")/common.sh"
[ $# -eq 1 ] || { echo "scripts/restore.sh FILE" >&2; exit 2; }
FILE=$(cd "$(dirname "$1")" && pwd)/$(basename "$1")
prepare_store
[ ! -e "$STORE/pg" ] || stop_with "$STORE holds a database already. Restore into an empty store: ECHELLE_STORE=folder."
# shellcheck disable=SC2086
need_packages $RUN_PACKAGES
[ -n "${RESTORE_ALONE:-}" ] || need_python app
folder=$(mktemp -d "$STORE/restore.XXXXXX")
trap 'rm -rf "$folder"; stop_database' EXIT
tar -C "$folder" -xf "$FILE" database settings.env sums || stop_with "$FILE is no backup."
(cd "$folder" && sha256sum --quiet -c sums) || stop_with "$FILE is damaged."
keep_setting SECRET_KEY "$(sed -n 's/^SECRET_KEY=//p' "$folder/settings.env")"
start_database
PGPASSWORD=$(setting DB_PASSWORD) "$PGBIN/pg_restore" -h 127.0.0.1 -p "$(setting DB_PORT)" -U echelle -d echelle --no-owner --exit-on-error "$folder/database" \
  || stop_with "the database could not be read in."
[ -n "${RESTORE_ALONE:-}" ] || "$VENV/bin/python" manage.py migrate -v0
[ -n "${RESTORE_ALONE:-}" ] || "$VENV/bin/python" manage.py verify_record --restored
say "Restored. ./run serves it."
