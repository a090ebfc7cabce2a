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
  for p in "$@"; do dpkg -s "$p" >/dev/null 2>&1 || missing+=("$p"); done
  [ ${#missing[@]} -eq 0 ] && return 0
  if [ "$(id -u)" -ne 0 ]; then say "Missing: ${missing[*]}. Install them, or run this as root."; return 1; fi
  say "Installing ${missing[*]}"
  # An installation that was cut short would refuse every later one.
  dpkg --configure -a >/dev/null 2>&1 || apt install -y -qq --fix-broken >/dev/null 2>&1
  local try
  for try in 1 2 3; do apt update -qq >/dev/null 2>&1 && break; done
  # The package must not make a cluster of its own: ours is private.
  if [[ " ${missing[*]} " == *" postgresql-15 "* ]]; then
    apt install -y -qq postgresql-common >/dev/null
    sed -i 's/^#*create_main_cluster.*/create_main_cluster = false/' /etc/postgresql-common/createcluster.conf
  fi
  apt install -y -qq "${missing[@]}" >/dev/null
}

pg_bin() { ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -1; }

# as_pg COMMAND…: PostgreSQL refuses to run as root; then its own user does.
as_pg() { if [ "$(id -u)" -eq 0 ]; then (cd / && runuser -u postgres -- "$@"); else "$@"; fi; }

free_port() { node -e 'const s=require("net").createServer();s.listen(0,"127.0.0.1",()=>{console.log(s.address().port);s.close()})'; }

# Whether the server of a data folder really runs: its process is no zombie and names this folder.
pg_runs() {
  local data="$1" pid
  pid="$(head -1 "$data/postmaster.pid" 2>/dev/null || true)"
  [ -n "$pid" ] && [ -r "/proc/$pid/stat" ] || return 1
  [ "$(sed 's/.*) //' "/proc/$pid/stat" | cut -c1)" != Z ] || return 1
  tr '\0' ' ' <"/proc/$pid/cmdline" | grep -qF -- "$data"
}

# pg_start DIR [SETTING…]: starts (and on first use makes) the cluster in DIR; prints its connection string.
pg_start() {
  local dir="$1"; shift
  local bin data="$dir/pg" port setting try
  bin="$(pg_bin)"
  mkdir -p "$dir"
  if [ ! -f "$dir/pg-made" ]; then
    rm -rf "$data"; mkdir -p "$data"
    [ "$(id -u)" -eq 0 ] && chown postgres "$data"
    as_pg "$bin/initdb" -D "$data" -U kivren -A trust -E UTF8 --locale=C --no-sync >/dev/null
    touch "$dir/pg-made"
  fi
  if ! pg_runs "$data"; then
    rm -f "$data/postmaster.pid"
    for try in 1 2 3 4 5; do
      port="$(free_port)"
      local options="-c listen_addresses=127.0.0.1 -c port=$port -c unix_socket_directories= -c max_connections=200"
      for setting in "$@"; do options+=" -c $setting"; done
      if as_pg "$bin/pg_ctl" -D "$data" -w -t 60 -l "$data/server.log" -o "$options" start >/dev/null 2>&1; then echo "$port" >"$dir/pg-port"; break; fi
      [ "$try" = 5 ] && { say "PostgreSQL did not start; its log: $data/server.log"; return 1; }
    done
  fi
  port="$(cat "$dir/pg-port")"
  echo "Host=127.0.0.1;Port=$port;Username=kivren;Database=postgres;Maximum Pool Size=60"
}

pg_stop() { as_pg "$(pg_bin)/pg_ctl" -D "$1/pg" -m fast -w stop >/dev/null 2>&1 || true; }

# Folders above the data must be passable for PostgreSQL's user: as root it lives outside homes that are shut.
data_home() {
  if [ "$(id -u)" -eq 0 ] && ! as_pg test -x "$root" 2>/dev/null; then echo "/var/tmp/kivren-$(printf %s "$root" | cksum | cut -d' ' -f1)"; else echo "$root/.data"; fi
}

# publish PROJECT DIR: builds a program with its code compiled ahead for this machine, which halves the time of a short
# command; a server that runs for hours is faster without.
publish() {
  local rid
  case "$(uname -m)" in aarch64 | arm64) rid=linux-arm64 ;; *) rid=linux-x64 ;; esac
  dotnet publish "$root/src/$1" -c Release -r "$rid" --self-contained false -p:PublishReadyToRun=true -o "$2" -v quiet --nologo >&2
}

build_web() {
  (cd "$root/web" && { [ -f node_modules/.package-lock.json ] && [ node_modules/.package-lock.json -nt package-lock.json ] || npm ci --no-audit --no-fund --loglevel=error >&2; } && npm run -s build >&2)
}
