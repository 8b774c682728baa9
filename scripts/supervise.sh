# Processes that are there again when they end, whatever ended them. Sourced by `furrow`.

# $1: its log; the rest: the command. Runs until it is told to stop, and stops the command then.
keep() {
  local log=$1 pid=""
  shift
  trap 'trap "" TERM; [ -z "$pid" ] || kill "$pid" 2>/dev/null || true; wait; exit 0' TERM
  while true; do
    "$@" >>"$log" 2>&1 &
    pid=$!
    wait "$pid" || true
    pid=""
    echo "ended, started again: $*" >>"$log"
    # A command that can't start must not spin; a background sleep lets the signal through.
    sleep 2 & wait $! || true
  done
}
