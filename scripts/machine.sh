# What a fresh machine needs, for ./start and ./test: installs what is missing, starts a private PostgreSQL.
# Sourced, not run. Everything it starts listens on loopback only.
set -euo pipefail
root="$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)"
export DOTNET_CLI_TELEMETRY_OPTOUT=1 DOTNET_NOLOGO=1 DOTNET_SKIP_FIRST_TIME_EXPERIENCE=1 PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD=1

say() { printf '%s\n' "$*" >&2; }

apt() { DEBIAN_FRONTEND=noninteractive apt-get -o DPkg::Lock::Timeout=120 "$@"; }

# install_packages PACKAGE…: Debian's packages that are not there yet; as root only.
install_packages() {
  local missing=() p
  command -v dpkg >/dev/null || return 0 # on other systems what is missing is told where it is needed
  for p in "$@"; do dpkg -s "$p" >/dev/null 2>&1 || missing+=("$p"); done
  [ ${#missing[@]} -eq 0 ] && return 0
  if [ "$(id -u)" -ne 0 ]; then say "Missing: ${missing[*]}. Install them, or run this as root."; return 1; fi
  say "Installing ${missing[*]}"
  # An installation that was cut short would refuse every later one.
  dpkg --configure -a >/dev/null 2>&1 || apt install -y -qq --fix-broken >/dev/null 2>&1
  local try
  for try in 1 2 3; do apt update -qq >/dev/null 2>&1 && break; done
  # The package must not make a cluster of its own: ours is private.
  if [[ " ${missing[*]} " == *" postgresql-"* ]]; then
    apt install -y -qq postgresql-common >/dev/null
    sed -i 's/^#*create_main_cluster.*/create_main_cluster = false/' /etc/postgresql-common/createcluster.conf
  fi
  apt install -y -qq "${missing[@]}" >/dev/null
}

# ---- PostgreSQL: a private one in a folder of the data. It listens on a socket there and nowhere else. ----

# as_pg COMMAND…: PostgreSQL refuses to run as root; then its own user does.
as_pg() { if [ "$(id -u)" -eq 0 ]; then (cd / && runuser -u postgres -- "$@"); else "$@"; fi; }

# pg_bin DIR: the programs of the version that the data is of; of the newest installed where there is none yet.
pg_bin() {
  local version bin
  if [ -f "$1/pg/PG_VERSION" ]; then
    version="$(cat "$1/pg/PG_VERSION")"
    bin="/usr/lib/postgresql/$version/bin"
    [ -x "$bin/postgres" ] || install_packages "postgresql-$version" || true
    [ -x "$bin/postgres" ] || { say "The data in $1 is of PostgreSQL $version, which is not installed. Install postgresql-$version."; return 1; }
  else
    bin="$(ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -1)"
    [ -n "$bin" ] || { say "PostgreSQL is not installed."; return 1; }
  fi
  echo "$bin"
}

# pg_runs DIR: whether the server of this data really runs: its process lives, is no zombie, and works in this folder.
pg_runs() {
  local pid
  pid="$(head -1 "$1/pg/postmaster.pid" 2>/dev/null)" || return 1
  [ -n "$pid" ] && [ -r "/proc/$pid/stat" ] || return 1
  [ "$(sed 's/.*) //' "/proc/$pid/stat" | cut -c1)" != Z ] || return 1
  [ "$(readlink "/proc/$pid/cwd" 2>/dev/null || true)" = "$1/pg" ]
}

# pg_socket DIR: where the server listens. A socket's path may have 107 bytes; one too long stands in a folder of its own under /tmp.
pg_socket() {
  if [ "${#1}" -lt 80 ]; then echo "$1/socket"; else echo "/tmp/kivren-$(id -u)-$(printf %s "$1" | cksum | cut -d' ' -f1)"; fi
}

secret() { [ -f "$1" ] || (umask 077 && head -c 30 /dev/urandom | base64 | tr -d '/+=\n' >"$1"); cat "$1"; }

# pg_sql DIR DATABASE SQL: as the owner of the server.
pg_sql() { PGPASSWORD="$(cat "$1/pg-owner")" "$(pg_bin "$1")/psql" -qAtX -v ON_ERROR_STOP=1 -h "$(pg_socket "$1")" -U kivren -d "$2" -c "$3"; }

# pg_connection DIR [ROLE DATABASE]: the connection string of the application, which is no superuser.
pg_connection() {
  local role="${2:-kivren_app}" database="${3:-kivren}" word
  if [ "$role" = kivren ]; then word="$(cat "$1/pg-owner")"; else word="$(cat "$1/pg-application")"; fi
  echo "Host=$(pg_socket "$1");Username=$role;Password=$word;Database=$database;Maximum Pool Size=60"
}

# pg_make DIR BIN: a new cluster beside, put in its place when it is whole. Nothing that is there is ever removed.
pg_make() {
  local dir="$1" bin="$2" new="$1/pg-new-$$" word
  if [ -e "$dir/pg" ] && [ -n "$(ls -A "$dir/pg" 2>/dev/null)" ]; then
    say "$dir/pg is not empty and is no database. It is left as it is: move it away, or choose another folder with --data."
    return 1
  fi
  mkdir -p "$new" || return 1
  word="$(mktemp)" || return 1
  secret "$dir/pg-owner" >"$word" || return 1
  if [ "$(id -u)" -eq 0 ]; then chown postgres "$new" "$word" || return 1; fi
  if ! as_pg "$bin/initdb" -D "$new" -U kivren -A scram-sha-256 --pwfile="$word" -E UTF8 --locale=C --no-sync >"$dir/initdb.log" 2>&1; then
    rm -rf "$word" "$new"
    say "The database could not be made: $(tail -1 "$dir/initdb.log")"
    return 1
  fi
  rm -f "$word"
  { [ ! -d "$dir/pg" ] || rmdir "$dir/pg"; } && mv "$new" "$dir/pg" || return 1
  sync "$dir/pg" 2>/dev/null || true
}

# pg_start DIR [SETTING…]: starts the server of a folder, and makes it on first use; one that runs already is used. Afterwards
# pg_connection tells how to reach it.
pg_start() {
  local dir bin setting socket options
  mkdir -p "$1" || return 1
  dir="$(cd "$1" && pwd -P)" || return 1
  shift
  bin="$(pg_bin "$dir")" || return 1
  [ -f "$dir/pg/PG_VERSION" ] && [ -f "$dir/pg/global/pg_control" ] || pg_make "$dir" "$bin" || return 1
  socket="$(pg_socket "$dir")"
  mkdir -p "$socket" && chmod 700 "$socket" || return 1
  if [ "$(id -u)" -eq 0 ]; then chown postgres "$socket" || return 1; fi
  if ! pg_runs "$dir"; then
    options="-c listen_addresses= -c unix_socket_directories='$socket' -c unix_socket_permissions=0700 -c max_connections=200"
    for setting in "$@"; do options+=" -c $setting"; done
    pg_allow "$dir" || return 1
    # The children of a server that was killed end a little later than itself; until then its data is refused.
    local tries=20
    while ! pg_try "$dir" "$bin" "$options"; do
      tries=$((tries - 1))
      if [ "$tries" -eq 0 ] || ! tail -n 6 "$dir/pg/server.log" | grep -qE "still in use|already exists"; then say "PostgreSQL did not start; its log: $dir/pg/server.log"; return 1; fi
      sleep 0.5
    done
  fi
  pg_prepare "$dir" || { say "The database of $dir could not be prepared; its log: $dir/pg/server.log"; return 1; }
}

# pg_try DIR BIN OPTIONS
pg_try() {
  local pid
  # PostgreSQL itself takes away what a server that died left; only one that nobody has buried yet looks alive to it.
  pid="$(head -1 "$1/pg/postmaster.pid" 2>/dev/null || true)"
  if [ -n "$pid" ] && [ "$(sed 's/.*) //' "/proc/$pid/stat" 2>/dev/null | cut -c1)" = Z ] && ! grep -qxF "$1/pg" <<<"$(readlink /proc/[0-9]*/cwd 2>/dev/null || true)"; then rm -f "$1/pg/postmaster.pid"; fi
  as_pg "$2/pg_ctl" -D "$1/pg" -w -t 60 -l "$1/pg/server.log" -o "$3" start >/dev/null 2>&1 9>&-
}

# pg_allow DIR: who may connect: only by password, only through the socket. A cluster of an earlier version trusted everybody:
# until its roles have passwords the socket's folder alone keeps others out.
pg_allow() {
  local rule="local all all scram-sha-256"
  [ -f "$1/pg-owner" ] || rule="local all all trust"
  printf '# Written by Kivren.\n%s\n' "$rule" | if [ "$(id -u)" -eq 0 ]; then (cd / && runuser -u postgres -- tee "$1/pg/pg_hba.conf" >/dev/null); else tee "$1/pg/pg_hba.conf" >/dev/null; fi
}

# pg_prepare DIR: the role of the application and its database.
pg_prepare() {
  local dir="$1" old=0
  if [ ! -f "$dir/pg-owner" ]; then
    old=1
    "$(pg_bin "$dir")/psql" -qX -h "$(pg_socket "$dir")" -U kivren -d postgres -c "ALTER ROLE kivren PASSWORD '$(secret "$dir/pg-owner")'" >/dev/null || { rm -f "$dir/pg-owner"; return 1; }
    pg_allow "$dir" && as_pg "$(pg_bin "$dir")/pg_ctl" -D "$dir/pg" reload >/dev/null || return 1
  fi
  [ "$(pg_sql "$dir" postgres "SELECT 1 FROM pg_roles WHERE rolname = 'kivren_app'")" = 1 ] || pg_sql "$dir" postgres "CREATE ROLE kivren_app LOGIN" || return 1
  pg_sql "$dir" postgres "ALTER ROLE kivren_app PASSWORD '$(secret "$dir/pg-application")'" || return 1
  if [ "$(pg_sql "$dir" postgres "SELECT 1 FROM pg_database WHERE datname = 'kivren'")" != 1 ]; then
    # An earlier version kept the shelf in the database that every server has.
    if [ "$old" = 1 ] && [ "$(pg_sql "$dir" postgres "SELECT 1 FROM information_schema.tables WHERE table_name = 'manuals'")" = 1 ]; then
      pg_sql "$dir" template1 "CREATE DATABASE kivren TEMPLATE postgres" || return 1
      pg_sql "$dir" kivren "DO \$\$ DECLARE t record; BEGIN FOR t IN SELECT schemaname s, tablename n FROM pg_tables WHERE schemaname NOT IN ('pg_catalog', 'information_schema') LOOP EXECUTE format('ALTER TABLE %I.%I OWNER TO kivren_app', t.s, t.n); END LOOP; FOR t IN SELECT nspname s FROM pg_namespace WHERE nspname !~ '^pg_' AND nspname <> 'information_schema' LOOP EXECUTE format('ALTER SCHEMA %I OWNER TO kivren_app', t.s); END LOOP; END \$\$" || return 1
    else pg_sql "$dir" postgres "CREATE DATABASE kivren" || return 1; fi
    pg_sql "$dir" postgres "ALTER DATABASE kivren OWNER TO kivren_app" || return 1
    pg_sql "$dir" kivren "ALTER SCHEMA public OWNER TO kivren_app" || return 1
  fi
}

pg_stop() { local dir; dir="$(cd "$1" && pwd -P)" && as_pg "$(pg_bin "$dir")/pg_ctl" -D "$dir/pg" -m fast -w stop >/dev/null 2>&1 || true; }

# Folders above the data must be passable for PostgreSQL's user: as root it lives outside homes that are shut.
data_home() {
  if [ "$(id -u)" -eq 0 ] && ! as_pg test -x "$root" 2>/dev/null; then echo "/var/tmp/kivren-$(printf %s "$root" | cksum | cut -d' ' -f1)"; else echo "$root/.data"; fi
}

# The runtime that programs are published for.
runtime() { case "$(uname -m)" in aarch64 | arm64) echo linux-arm64 ;; *) echo linux-x64 ;; esac; }

# publish PROJECT DIR: builds a program with its code compiled ahead for this machine, which halves the time of a short
# command; a server that runs for hours is faster without.
publish() {
  dotnet publish "$root/src/$1" -c Release -r "$(runtime)" --self-contained false -p:PublishReadyToRun=true -o "$2" -v quiet --nologo >&2
}

# The command line as machine code alone, which is some minutes' work: nothing is compiled any more when it runs. What was there
# before works until the new one is whole.
publish_native() {
  install_packages clang zlib1g-dev || return 1
  say "Making the command native to this machine; this takes some minutes"
  rm -rf "$root/.build/native.new"
  dotnet publish "$root/src/Kivren.Cli" -c Release -r "$(runtime)" -p:Native=true -o "$root/.build/native.new" -v quiet --nologo >&2 || return 1
  rm -f "$root"/.build/native.new/*.pdb "$root"/.build/native.new/*.dbg
  rm -rf "$root/.build/native"
  mv "$root/.build/native.new" "$root/.build/native"
  touch "$root/.build/native/kivren"
}

build_web() {
  (cd "$root/web" && { [ -f node_modules/.package-lock.json ] && [ node_modules/.package-lock.json -nt package-lock.json ] || npm ci --no-audit --no-fund --loglevel=error >&2; } && npm run -s build >&2)
}
