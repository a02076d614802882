#!/bin/sh
# Takes the picture of a command's output in a terminal window: take_terminal_shot.sh FILE.png COMMAND...  (needs xvfb, xterm, imagemagick)
set -eu
file=$1; shift
display=:97
Xvfb $display -screen 0 1280x800x24 >/dev/null 2>&1 &
server=$!
sleep 1
DISPLAY=$display xterm -fa "DejaVu Sans Mono" -fs 11 -geometry 140x46+0+0 -bg '#fbfaf7' -fg '#2b2430' -e sh -c "printf '\$ %s\n\n' '$*'; $*; sleep 60" &
window=$!
sleep "${WAIT:-14}"
DISPLAY=$display import -window root "$file"
kill $window $server
