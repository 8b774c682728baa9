# A PostgreSQL cluster of our own, on loopback, on a free port. Sourced by `furrow`.

PG_BIN=/usr/lib/postgresql/15/bin
CLUSTER=""
CLUSTER_OURS=""
CLUSTER_OPTIONS=""

# PostgreSQL refuses to run as root; started by root it runs as the packaged account.
as_postgres() {
  if [ "$(id -u)" = 0 ]; then (cd / && runuser -u postgres -- "$@"); else "$@"; fi
}

# Data lie under the checkout, unless that account can't reach them there (a checkout in
# root's home): then beside the packaged clusters, one folder per checkout.
cluster_path() {
  local base="$STATE/postgres"
  mkdir -p "$base"
  if [ "$(id -u)" = 0 ]; then
    if ! as_postgres test -x "$base"; then
      base="/var/lib/postgresql/even-furrow-$(printf %s "$ROOT" | sha256sum | cut -c1-12)"
      mkdir -p "$base"
    fi
    chown postgres: "$base"
  fi
  printf '%s/%s' "$base" "$1"
}

database_password() {
  if [ ! -s "$STATE/database-password" ]; then
    (umask 077 && "$PYTHON" -c 'import secrets; print(secrets.token_urlsafe(24))' >"$STATE/database-password")
  fi
  cat "$STATE/database-password"
}

make_cluster() {
  local data=$1 secret
  say "Making a database cluster"
  secret=$(mktemp)
  database_password >"$secret"
  [ "$(id -u)" != 0 ] || chown postgres: "$secret"
  as_postgres "$PG_BIN/initdb" -D "$data" -U furrow --pwfile="$secret" -A scram-sha-256 \
    -E UTF8 --locale=C.UTF-8 >/dev/null
  rm -f "$secret"
}

boot_cluster() {
  as_postgres "$PG_BIN/pg_ctl" -D "$CLUSTER" -w -s -l "$CLUSTER/server.log" -o "$CLUSTER_OPTIONS" start
}

# Returns when the cluster had ended and was started again. Its server outlives a crash of any
# other of its processes by itself; this is for the server's own end.
watch_cluster() {
  while as_postgres "$PG_BIN/pg_ctl" -D "$CLUSTER" status >/dev/null 2>&1; do sleep 2; done
  boot_cluster
}

# $1: name of the cluster: demo, farm or test. Each is a database of its own.
start_cluster() {
  CLUSTER=$(cluster_path "$1")
  FURROW_DB_PASSWORD=$(database_password)
  as_postgres test -f "$CLUSTER/PG_VERSION" || make_cluster "$CLUSTER"
  if as_postgres "$PG_BIN/pg_ctl" -D "$CLUSTER" status >/dev/null 2>&1; then
    # Another `furrow` has it running: use it and leave it running.
    FURROW_DB_PORT=$(as_postgres sed -n 4p "$CLUSTER/postmaster.pid")
  else
    local speed=""
    FURROW_DB_PORT=$(free_port)
    # What the tests write need not survive a power cut.
    [ "$1" != test ] || speed="-c fsync=off -c full_page_writes=off -c synchronous_commit=off"
    CLUSTER_OPTIONS="-c listen_addresses=127.0.0.1 -c port=$FURROW_DB_PORT -c unix_socket_directories='' $speed"
    boot_cluster
    CLUSTER_OURS=1
  fi
  export FURROW_DB_HOST=127.0.0.1 FURROW_DB_PORT FURROW_DB_PASSWORD FURROW_DB_USER=furrow FURROW_DB_NAME=furrow
  "$PYTHON" - <<'PY'
import os, psycopg
where = {"host": os.environ["FURROW_DB_HOST"], "port": os.environ["FURROW_DB_PORT"],
         "user": "furrow", "password": os.environ["FURROW_DB_PASSWORD"], "dbname": "postgres"}
with psycopg.connect(**where, autocommit=True) as db:
    if not db.execute("SELECT 1 FROM pg_database WHERE datname = 'furrow'").fetchone():
        db.execute("CREATE DATABASE furrow")
PY
}

stop_cluster() {
  [ -n "$CLUSTER_OURS" ] || return 0
  as_postgres "$PG_BIN/pg_ctl" -D "$CLUSTER" -s -m fast stop || true
  CLUSTER_OURS=""
  # A tests' cluster outside the checkout would outlive it.
  case $CLUSTER in
    "$STATE"/*) ;;
    */test)
      as_postgres rm -rf "$CLUSTER"
      as_postgres rmdir --ignore-fail-on-non-empty "$(dirname "$CLUSTER")"
      ;;
  esac
}

drop_cluster() {
  local data
  data=$(cluster_path "$1")
  as_postgres test -f "$data/PG_VERSION" || return 0
  as_postgres "$PG_BIN/pg_ctl" -D "$data" -s -m fast stop >/dev/null 2>&1 || true
  as_postgres rm -rf "$data"
}
