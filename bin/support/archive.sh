# What bin/backup and bin/restore share. Sourced after setup.sh.
database="${HANDRAIL_DATABASE:-handrail}"
case "$database" in *[!a-z0-9_]* | '') stop "“$database” is no name of a database" ;; esac

stop() { printf '%s\n' "$*" >&2; exit 1; }

# sql TEXT: one value from the database
sql() { "$(postgres_bin)/psql" -Atqc "$1" "$DATABASE_URL"; }

# ---- the archive: the database's log beside the backups, by pgBackRest

own_database() {
  [ -z "${DATABASE_URL:-}" ] ||
    stop "The archive is of the database that Handrail itself runs; that of DATABASE_URL has its own."
}
# alone: until this process ends, and what it began; the database itself, which goes on, does not hold it
alone() {
  mkdir -p "$var"
  exec 8>>"$var/archive.lock"
  flock -n 8 || stop "Another bin/archive or bin/restore is at work here. Nothing was changed."
}
# archived: is the archive on?
archived() { [ -s "$var/archive" ]; }

# archive_folder NAME: the folder as a whole path, made where it is missing; it belongs to whoever runs the database
archive_folder() {
  case "$1" in -*) stop "“$1” is no folder. Use: bin/archive on FOLDER" ;; esac
  mkdir -p "$1/handrail-archive" 2>/dev/null || stop "The folder $1 can not be made. Choose one that can be written."
  found=$(cd "$1/handrail-archive" && pwd) || stop "The folder $1 can not be entered."
  beside=$(readlink -f "$var/postgres" 2>/dev/null)
  case "$found" in "$here"/* | "${beside:-$here}"/*)
    stop "$found lies within Handrail itself: what takes the one takes the other. Choose another disk." ;;
  esac
  mkdir -p "$var"
  [ "$(stat -c %d "$found")" != "$(stat -c %d "$var")" ] ||
    printf '%s\n' "Mind: $found lies on the same disk as the database. A disk that dies takes both." >&2
  chmod 700 "$found"
  [ "$(id -u)" != 0 ] || chown postgres "$found"
  as_postgres test -w "$found" || stop "The user postgres can not reach $found. Choose a folder that others may enter."
  printf '%s\n' "$found"
}

# install_archiver: pgBackRest, where it is missing
install_archiver() {
  command -v pgbackrest >/dev/null 2>&1 && return 0
  say "Installing the Debian package pgbackrest"
  mkdir -p "$var"
  { as_root apt-get update -q && as_root env DEBIAN_FRONTEND=noninteractive \
    apt-get install -y -q --no-install-recommends pgbackrest; } >"$var/packages.log" 2>&1 || {
    tail -n 5 "$var/packages.log" >&2
    stop "pgbackrest could not be installed. Is there a network? The whole log is $var/packages.log"
  }
}

# archive_settings: pgBackRest's own, and those of the database, in its folder: they go with it
archive_settings() {
  archive_conf || return 1
  archive_settings_off
  as_postgres sh -c 'cat >>"$1/postgresql.conf"' - "$cluster/data" <<CONF
# archive begins
archive_mode = on
archive_timeout = 60
archive_command = 'pgbackrest --config=$cluster/archive/pgbackrest.conf --stanza=handrail archive-push %p'
# archive ends
CONF
}
archive_conf() {
  folder=$(cat "$var/archive")
  # the longest name of a socket that the system takes
  [ "${#cluster}" -le 80 ] || stop "The folder $cluster lies too deep for a socket. Move Handrail to a shorter path."
  as_postgres mkdir -p "$cluster/archive/lock" "$cluster/archive/log" "$cluster/archive/spool" "$cluster/socket" ||
    return 1
  as_postgres chmod 700 "$cluster/socket"
  as_postgres sh -c 'umask 077; cat >"$1"' - "$cluster/archive/pgbackrest.conf" <<INI
[global]
repo1-path=$folder
repo1-retention-full=${HANDRAIL_ARCHIVE_KEEP:-3}
start-fast=y
compress-type=gz
log-level-console=warn
log-level-file=off
log-path=$cluster/archive/log
lock-path=$cluster/archive/lock
spool-path=$cluster/archive/spool
[handrail]
pg1-path=$cluster/data
pg1-socket-path=$cluster/socket
pg1-user=handrail
pg1-database=postgres
INI
}
archive_settings_off() {
  as_postgres sed -i '/^# archive begins$/,/^# archive ends$/d' "$cluster/data/postgresql.conf"
}

# archive_off: as if it had never been on; what was kept stays
archive_off() {
  rm -f "$var/archive"
  archive_settings_off
  begin_anew
}

# begin_anew: the database ends and starts again, with what its settings say now
begin_anew() {
  unset DATABASE_URL
  as_postgres "$pgbin/pg_ctl" -D "$cluster/data" -w -m fast stop >"$var/pg_ctl.log" 2>&1
  start_database "$database"
}

# archiver COMMAND ...: pgBackRest, as whoever runs the database
archiver() {
  as_postgres env PGPASSWORD="$(cat "$var/database.password")" PGBACKREST_PG1_PORT="$(cat "$var/database.port")" \
    pgbackrest --config="$cluster/archive/pgbackrest.conf" --stanza=handrail "$@" \
    >>"$var/archive.log" 2>&1
}

# archive_backup full|incr: what is backed up is looked at afterwards, file by file
archive_backup() { archiver --type="$1" backup && archiver verify; }

# archive_list: "full 2026-12-01 02:10:44 20261201-021040F", the oldest first
archive_list() {
  place_cluster
  as_postgres pgbackrest --config="$cluster/archive/pgbackrest.conf" --stanza=handrail --output=json info |
    ruby -rjson -e 'JSON.parse($stdin.read).first.to_h.fetch("backup", []).each do |one|
      puts [one["type"], Time.at(one["timestamp"]["stop"]).strftime("%F %T"), one["label"]].join(" ")
    end'
}

# keep_keys: what opens the database and the sessions lies with what it opens, as in a backup; written by whom the
# folder belongs to: root follows no link there
keep_keys() {
  folder=$(cat "$var/archive")
  for key in database.password server/session.secret; do
    [ ! -s "$var/$key" ] ||
      as_postgres sh -c 'umask 077; cat >"$1"' - "$folder/$(basename "$key")" <"$var/$key"
  done
}

# restore_to TIME: the database as it stood then, from the archive alone. What was there is kept beside it.
restore_to() {
  archived || stop "There is no archive to come back from: bin/archive on FOLDER"
  at=$(moment "$1") || exit 1
  place_cluster
  pgbin=$(postgres_bin)
  data="$cluster/data"
  put_back
  # what is not in the archive yet goes there first
  start_database "$database"
  sql "SELECT pg_switch_wal()" >/dev/null 2>&1
  archiver check || { tail -n 3 "$var/archive.log" >&2; stop "The archive is not whole. Nothing was changed."; }
  begun_before "$at" "$1"
  unset DATABASE_URL
  as_postgres "$pgbin/pg_ctl" -D "$data" -w -m fast stop >"$var/pg_ctl.log" 2>&1 ||
    stop "The database does not stop. Nothing was changed."
  aside="$data-before-$(date +%Y%m%d%H%M%S)"
  echo "$aside" >"$var/restoring"
  mv "$data" "$aside" && come_back "$at" || {
    put_back
    stop "It could not be brought back to $1. The database is as it was."
  }
  rm -f "$var/restoring"
  say "The database stands as it was at $(date -d "@$at" '+%F %T')."
  say "The one that was there is kept as $aside."
  say "A new whole backup is due: bin/archive now full"
}

# restore_from FOLDER [TIME]: on a machine that has no database yet, from what another one kept; to its end, or a time
restore_from() {
  [ $# -eq 1 ] || at=$(moment "$2") || exit 1
  from=$(cd "$1" 2>/dev/null && pwd) || stop "There is no folder $1."
  [ ! -d "$from/handrail-archive" ] || from="$from/handrail-archive"
  [ -s "$from/database.password" ] && [ -d "$from/backup/handrail" ] || stop "$1 holds no archive of Handrail."
  install_packages
  install_archiver
  check_disk
  place_cluster
  pgbin=$(postgres_bin)
  data="$cluster/data"
  put_back
  [ ! -e "$data" ] ||
    stop "There is a database here already, in $data. bin/restore --to TIME takes it back; nothing was changed."
  as_postgres test -w "$from" || stop "The user postgres can not write in $from."
  echo new >"$var/restoring"
  printf '%s\n' "$from" >"$var/archive"
  (umask 077; cat "$from/database.password" >"$var/database.password")
  pgport=$(free_port 54390) && echo "$pgport" >"$var/database.port"
  archive_conf && come_back "${at:-}" || {
    put_back
    stop "It could not be brought back from $from."
  }
  rm -f "$var/restoring"
  [ ! -s "$from/session.secret" ] || {
    choose_account && place_server && serve_with session.secret <"$from/session.secret"
  }
  say "The database was brought back from $from. Start it with bin/start."
}

# put_back: what a restore that was broken off left: the database that was there takes its place again, or none
put_back() {
  [ -s "$var/restoring" ] || return 0
  aside=$(cat "$var/restoring")
  ! postmaster || as_postgres "$pgbin/pg_ctl" -D "$data" -w -m immediate stop >/dev/null 2>&1
  if [ "$aside" = new ]; then
    rm -rf "$data" "$var/archive" "$var/database.password"
  elif [ -d "$aside" ]; then
    rm -rf "$data"
    mv "$aside" "$data"
  fi
  rm -f "$var/restoring"
}

# restore_back: for whoever was cut off in the middle
restore_back() {
  [ -s "$var/restoring" ] || stop "No restore was broken off. Nothing was changed."
  place_cluster
  pgbin=$(postgres_bin)
  data="$cluster/data"
  put_back
  say "The database is as it was before."
}

# moment TIME: seconds since 1970
moment() {
  seen=$(date -d "$1" +%s 2>/dev/null) ||
    stop "“$1” is no time. Write it like 2026-12-01 09:30, by this machine's clock. Nothing was changed."
  [ "$seen" -le "$(date +%s)" ] || stop "$1 has not come yet. Nothing was changed."
  printf '%s\n' "$seen"
}

# begun_before SECONDS TIME
begun_before() {
  first=$(archive_list | head -n 1 | cut -d' ' -f2,3)
  [ -n "$first" ] || stop "The archive holds no backup. Nothing was changed."
  [ "$1" -ge "$(date -d "$first" +%s)" ] || stop "The archive begins at $first. Nothing was changed."
}

# come_back SECONDS: into the empty folder of the database; true once it has come to its time and takes what is written
come_back() {
  as_postgres mkdir -p -m 700 "$data" || return 1
  if [ -n "$1" ]; then
    archiver --type=time --target="$(date -u -d "@$1" '+%Y-%m-%d %H:%M:%S')+00" --target-action=promote restore
  else
    archiver restore
  fi && archive_settings || { tail -n 3 "$var/archive.log" >&2; return 1; }
  tries=0
  restoring=yes
  until (start_database "$database") >/dev/null 2>"$var/recovery.log" && start_database "$database" &&
    [ "$(sql 'SELECT pg_is_in_recovery()' 2>/dev/null)" = f ]; do
    unset DATABASE_URL
    tries=$((tries + 1))
    [ $tries -lt "${HANDRAIL_RESTORE_TRIES:-600}" ] && postmaster || {
      tail -n 3 "$cluster/log" >&2
      as_postgres "$pgbin/pg_ctl" -D "$data" -m immediate stop >/dev/null 2>&1
      return 1
    }
    sleep 1
  done
}
