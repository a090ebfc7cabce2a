# Backup and restore of a whole shelf: all that the database knows. Sourced by ./kivren.

# shelf_arguments FILE [--data DIR]
shelf_arguments() {
  file=""; data=""
  while [ $# -gt 0 ]; do
    case "$1" in
      --data) [ -n "${2:-}" ] || { say "--data wants a folder"; exit 2; }; data="$2"; shift ;;
      -*) say "There is no option $1"; exit 2 ;;
      *) file="$1" ;;
    esac
    shift
  done
  [ -n "$file" ] || { say "./kivren backup FILE | restore FILE [--data DIR]"; exit 2; }
  [ -n "$data" ] || data="$(data_home)/shelf"
  [ -d "$data" ] || { say "There is no shelf in $data."; exit 2; }
  data="$(cd "$data" && pwd -P)"
}

# A shelf that does not run is started for the while.
shelf_reach() {
  if pg_runs "$data"; then return; fi
  exec 9>>"$data/lock"
  flock -n 9 || { say "The shelf is just starting or stopping; try again."; exit 1; }
  pg_start "$data"
  trap 'pg_stop "$data"' EXIT
}

shelf_backup() {
  shelf_arguments "$@"
  [ -f "$data/pg/PG_VERSION" ] || { say "There is no shelf in $data."; exit 2; }
  shelf_reach
  local part="$file.part"
  PGPASSWORD="$(cat "$data/pg-application")" "$(pg_bin "$data")/pg_dump" -Fc -h "$(pg_socket "$data")" -U kivren_app -d kivren -f "$part" || { rm -f "$part"; say "The backup failed; nothing was written."; exit 1; }
  sync "$part" && mv "$part" "$file"
  say "Backed up $data to $file ($(du -h "$file" | cut -f1))."
}

# Restores into a database beside, and changes places when it is whole: a backup that cannot be read changes nothing. The shelf as
# it was stays in the server under the name that is told.
shelf_restore() {
  shelf_arguments "$@"
  [ -f "$file" ] || { say "There is no file $file."; exit 2; }
  shelf_reach
  local bin before; bin="$(pg_bin "$data")"; before="kivren_before_$(date +%Y%m%d_%H%M%S)"
  "$bin/pg_restore" -l "$file" >/dev/null 2>&1 || { say "$file is no backup of a shelf."; exit 1; }
  pg_sql "$data" postgres "DROP DATABASE IF EXISTS kivren_coming"
  pg_sql "$data" postgres "CREATE DATABASE kivren_coming OWNER kivren_app"
  pg_sql "$data" kivren_coming "ALTER SCHEMA public OWNER TO kivren_app"
  if ! PGPASSWORD="$(cat "$data/pg-application")" "$bin/pg_restore" --exit-on-error --no-owner --single-transaction -h "$(pg_socket "$data")" -U kivren_app -d kivren_coming "$file"; then
    pg_sql "$data" postgres "DROP DATABASE IF EXISTS kivren_coming"
    say "$file could not be restored; the shelf is as it was."; exit 1
  fi
  pg_sql "$data" postgres "ALTER DATABASE kivren ALLOW_CONNECTIONS false"
  pg_sql "$data" postgres "SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname IN ('kivren', 'kivren_coming')" >/dev/null
  pg_sql "$data" postgres "ALTER DATABASE kivren RENAME TO $before"
  pg_sql "$data" postgres "ALTER DATABASE kivren_coming RENAME TO kivren"
  pg_sql "$data" postgres "ALTER DATABASE $before ALLOW_CONNECTIONS true"
  # Whoever serves reads everything anew.
  if [ -f "$data/start-pid" ] && [ -f "$data/address" ]; then kill -HUP "$(cat "$data/start-pid")" 2>/dev/null || true; fi
  say "Restored $file. The shelf as it was is kept in the database $before."
}
