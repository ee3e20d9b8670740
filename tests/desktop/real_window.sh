#!/usr/bin/env bash
# real_window.sh PROGRAM DEMO: in a real window under Xvfb, by keyboard and mouse alone: open the two legs of the
# camera link, subtract, clock, eye, mask, measure; the program is killed, started again, goes on with what was not
# saved, exports the report, saves.
set -euo pipefail
program=$1 demo=$2
folder=$(mktemp -d)
export XDG_RUNTIME_DIR=$folder XDG_CONFIG_HOME=$folder/config HOME=$folder
unset WAYLAND_DISPLAY
mkfifo "$folder/display"
Xvfb -displayfd 3 -screen 0 1280x800x24 3>"$folder/display" 2>/dev/null &
server=$!
trap 'kill $(jobs -p) 2>/dev/null || true; rm -rf "$folder"' EXIT
read -r number <"$folder/display"
export DISPLAY=:$number
unset QT_QPA_PLATFORM
openbox >/dev/null 2>&1 &
cp "$demo/captures/camera-link.csv" "$folder/camera-link.csv"

fail() { echo "FAIL: $1"; kill -0 $app 2>/dev/null && echo "(the program runs)" || echo "(the program has ended)"; xdotool search --name . 2>&1 | head -5; cat "$folder/log"; exit 1; }
await() { for _ in $(seq 400); do if eval "$1"; then return 0; fi; sleep 0.1; done; fail "waited in vain for: $1"; }
ask() { xdotool key ctrl+space; sleep 0.3; xdotool type --delay 15 "$1"; sleep 0.3; xdotool key Return; sleep 0.5; }

start() {
    "$program" "$@" 2>>"$folder/log" &
    app=$!
    await 'xdotool search --onlyvisible --pid $app --name "Fulvex" >/dev/null 2>&1'
    sleep 2
    xdotool windowactivate --sync "$(xdotool search --onlyvisible --pid $app --name Fulvex | tail -1)"
}

start "$folder/camera-link.csv"
xdotool key Return; sleep 1.5 # as it was understood, with the difference of its legs
ask "add loop"
ask "add eye"
ask "mask brackwater"
ask "measure rise link"
ask "measure eye width"
await '[ -n "$(find "$folder/.local/share" -path "*/unsaved/*" -type f 2>/dev/null)" ]'
sleep 2
kill -9 $app
wait $app 2>/dev/null || true
start
xdotool key space; sleep 3 # "Go on with it" has the focus
xdotool key ctrl+r; sleep 0.8; xdotool key ctrl+a; xdotool type --delay 15 "$folder/report.html"; xdotool key Return
await '[ -s "$folder/report.html" ]'
sleep 0.5
grep -q "rise time" "$folder/report.html" || fail "the report has no rise time"
grep -q "Brackwater camera link, revision B" "$folder/report.html" || fail "the report has no mask"
grep -q "1 failed UI" "$folder/report.html" || fail "the mask did not find exactly the dented bit"
xdotool key ctrl+shift+s; sleep 0.8; xdotool key ctrl+a; xdotool type --delay 15 "$folder/link.fulvex"; xdotool key Return
await '[ -s "$folder/link.fulvex" ]'
grep -q '"formula": "p - n"' "$folder/link.fulvex" || fail "the saved project has no difference"
sleep 1.5 # the file is there before the window is told: it would ask what is to become of the project
xdotool key ctrl+q
await '! kill -0 $app 2>/dev/null'

# A record that takes a minute to go through does not keep the window open.
truncate -s 6G "$folder/long.raw"
cat >"$folder/long.fulvex" <<JSON
{"fulvex": 1, "captures": [{"id": "r", "file": "long.raw", "import": {"format": "raw", "sample_type": "i8", "sample_interval": 1e-9}}],
 "channels": [{"id": "a", "capture": "r"}], "measurements": [{"id": "m", "quantity": "rise_time", "source": "a"}]}
JSON
start "$folder/long.fulvex"
asked=$(date +%s%N)
xdotool key ctrl+q
while kill -0 $app 2>/dev/null; do sleep 0.02; done
took=$((($(date +%s%N) - asked) / 1000000))
[ $took -lt 1500 ] || fail "closing took $took ms while a record was computed" # a second, and the tools around it
[ -s "$folder/log" ] && fail "the program complained"
echo "opened, worked, reported, saved; closed within $took ms of a long computation"
