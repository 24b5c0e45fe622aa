#!/usr/bin/env bash
# Writes a backup with the time in its name, brings it back into an empty place and checks it there, and removes
# old ones: scripts/backup.sh FOLDER [KEEP]. With NEST_CRATE_BACKUP_PASSPHRASE backups are encrypted.
set -eu
folder=${1:?Usage: scripts/backup.sh FOLDER [KEEP]}
keep=${2:-14}
case $keep in '' | *[!0-9]* | 0) echo "KEEP is how many backups stay, at least 1" >&2; exit 2 ;; esac
crate=$(cd "$(dirname "$0")/.." && pwd)/.venv/bin/nest-crate
mkdir -p "$folder"
file=$folder/nest-crate-$(date -u +%Y-%m-%dT%H%M%SZ).backup
drill=$(mktemp -d)
# One that could not be brought back is none.
trap 'rm -rf "$drill" "$file.new"' EXIT
if [ -n "${NEST_CRATE_BACKUP_PASSPHRASE:-}" ]; then
  "$crate" backup "$file.new" --encrypt
else
  "$crate" backup "$file.new"
fi
apart() { env -u NEST_CRATE_DATABASE_URL -u NEST_CRATE_AUDIO_URL "$crate" "$@"; }
apart restore "$file.new" --data "$drill/data"
apart doctor --data "$drill/data"
mv "$file.new" "$file"
find "$folder" -maxdepth 1 -name 'nest-crate-*.backup' | sort -r | tail -n "+$((keep + 1))" | xargs -r rm -f --
echo "$file was brought back and checked"
