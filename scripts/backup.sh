#!/usr/bin/env bash
# scripts/backup.sh FILE: everything that the store keeps (database, keys that links are signed with) into one file, while it is served or not.
. "$(dirname "${BASH_SOURCE[0]}")/common.sh"
[ $# -eq 1 ] || { echo "scripts/backup.sh FILE" >&2; exit 2; }
FILE=$(cd "$(dirname "$1")" && pwd)/$(basename "$1")
prepare_store
[ -f "$STORE/pg/PG_VERSION" ] || stop_with "there is no store in $STORE."
trap stop_database EXIT
start_database
folder=$(mktemp -d "$STORE/backup.XXXXXX")
trap 'rm -rf "$folder"; stop_database' EXIT
PGPASSWORD=$(setting DB_PASSWORD) "$PGBIN/pg_dump" -h 127.0.0.1 -p "$(setting DB_PORT)" -U echelle -Fc -f "$folder/database" echelle \
  || stop_with "the database could not be written out."
grep '^SECRET_KEY=' "$STORE/settings.env" >"$folder/settings.env"
(cd "$folder" && sha256sum database settings.env >sums)
tar -C "$folder" -cf "$FILE" database settings.env sums
chmod 600 "$FILE"
say "Kept in $FILE: $(stat -c %s "$FILE") bytes. Whoever holds it can read every row: keep it as you keep the data."
