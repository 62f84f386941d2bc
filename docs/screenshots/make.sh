#!/usr/bin/env bash
# Takes the pictures in this folder anew: each main command on the demo project,
# in a terminal of 1280 by 800 pixels. Needs Xvfb, xterm, ImageMagick and the
# DejaVu fonts (Debian: xvfb xterm imagemagick fonts-dejavu-core).
set -euo pipefail
here=$(cd "$(dirname "$0")" && pwd)
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
(cd "$here/../.." && CGO_ENABLED=0 go build -o "$work/bin/ramekin" ./cmd/ramekin)
export PATH="$work/bin:$PATH"
ramekin demo --unpack-only "$work/saltmarsh" >/dev/null
cd "$work/saltmarsh"

# shot NAME COMMAND…: runs the command in a terminal and saves what it shows
shot() {
  local name=$1
  shift
  printf '#!/usr/bin/env bash\nexport TERM=xterm-256color COLORTERM=truecolor\ncd %q\nclear\nprintf "\\033[1m$ %%s\\033[0m\\n" %q\n%s\ntouch %q\nsleep 20\n' \
    "$work/saltmarsh" "$*" "$*" "$work/done" >"$work/run.sh"
  chmod +x "$work/run.sh"
  rm -f "$work/done"
  xvfb-run -a -s '-screen 0 1280x800x24' bash -c '
    xterm -fa "DejaVu Sans Mono" -fs 11 -geometry 140x42+0+0 -bg "#10161c" -fg "#d7dde3" -b 8 -e "$1/run.sh" &
    for _ in $(seq 100); do [ -e "$1/done" ] && break; sleep 0.1; done
    sleep 0.7
    import -window root -define png:exclude-chunks=date,time "$2"
    kill %1
  ' _ "$work" "$here/$name.png"
  echo "$name.png"
}

shot routines 'ramekin routines --dialect sqlserver db/desk/fares.sql db/desk/types.sql'
shot package 'ramekin routines db/office'
shot calls 'ramekin calls apps/office apps/night'
shot check 'ramekin check apps/boarding/src/ferry/boarding/Decks.java'
shot check-script 'ramekin check --catalog db/timetable scripts/try_timetable.sql'
shot explain 'ramekin explain out-not-received'
shot bind 'ramekin bind; sed -n "22,56p" gen/java/ferry/gen/berth/AssignBerth.java'
