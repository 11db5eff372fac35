# What bin/backup and bin/restore share. Sourced after setup.sh.
database="${HANDRAIL_DATABASE:-handrail}"
case "$database" in *[!a-z0-9_]* | '') stop "“$database” is no name of a database" ;; esac

stop() { printf '%s\n' "$*" >&2; exit 1; }

# sql TEXT: one value from the database
sql() { "$(postgres_bin)/psql" -Atqc "$1" "$DATABASE_URL"; }
