# Processes that are there again when they end, whatever ended them. Sourced by `furrow`.

# Ends this shell with what it runs, by TERM, and by KILL what has not ended after half a minute.
# Asks for the running jobs: a variable is not set yet when TERM comes right after the start.
end_kept() {
  local second
  trap '' TERM
  for second in $(seq 30) last; do
    [ -n "$(jobs -pr)" ] || exit 0
    # Told again: a process that is just being started can miss its first signal.
    case $second in
      1 | 5 | 15) kill $(jobs -pr) 2>/dev/null || true ;;
      last) kill -KILL $(jobs -pr) 2>/dev/null || true ;;
    esac
    for _ in $(seq 10); do
      [ -n "$(jobs -pr)" ] || exit 0
      sleep 0.1
    done
  done
  exit 0
}

# $1: its log; the rest: the command. Runs until it is told to stop, and stops the command then.
keep() {
  local log=$1
  shift
  trap end_kept TERM
  while true; do
    "$@" >>"$log" 2>&1 &
    wait $! || true
    echo "ended, started again: $*" >>"$log"
    # A command that can't start must not spin; a background sleep lets the signal through.
    sleep 2 & wait $! || true
  done
}
