#!/bin/sh
# Try a Debian package in a fresh root of Debian stable, without network: packaging/try-package.sh DEB
set -eu
here=$(CDPATH='' cd -- "$(dirname -- "$0")/.." && pwd)
package=$1
mirror=${DEBIAN_MIRROR:-http://deb.debian.org/debian}

fail() { printf '%s\n' "package: $1" >&2; exit 1; }

work=$(mktemp -d)
root=$work/root
finish() { umount "$root/proc" 2>/dev/null || true; rm -rf "$work"; }
trap finish EXIT INT TERM
needed=$(sed 's/ (.*//' "$here/packaging/debian/depends" | paste -sd,)
mmdebstrap --quiet --variant=minbase --include="python3,$needed,xvfb,xauth" trixie "$root" "$mirror"
mount -t proc proc "$root/proc"
cp "$package" "$root/tmp/package.deb"
inside() { unshare --net chroot "$root" env HOME=/tmp/home LANG=C.UTF-8 "$@"; }
every_path() { (cd "$root" && find . -path ./proc -prune -o -path ./tmp -prune -o -print | sort); }

every_path > "$work/before"
inside dpkg -i /tmp/package.deb >/dev/null
inside dpkg -i /tmp/package.deb >/dev/null  # over itself, as an upgrade
inside sh -eu <<'SH'
mkdir -p "$HOME"
cd /tmp
zinc-margin --version
zinc-margin demo /tmp/photos >/dev/null
began=$(date +%s%N)
zinc-margin make /tmp/photos/stacked-bowls.jpg --size 18x18cm --out /tmp/bowls.jpg
echo "the first file, with nothing compiled: $(( ($(date +%s%N) - began) / 1000000 )) ms"
find "$HOME/.cache/zinc-margin/compiled" -newer /tmp/bowls.jpg -name '*.nbc' | grep . && exit 1
zinc-margin proof-print /tmp/bowls.jpg --by desk --paper-size A4 --out /tmp/proof.png
zinc-margin make /tmp/photos/wall-web-copy.jpg --size 9x6cm --method ai --out /tmp/wall.tif --quiet
cat > /tmp/window.py <<'PY'
import sys, time
from pathlib import Path
from zinc_margin.desktop.shell.application import start
app = start()
from zinc_margin.demo import folder
from zinc_margin.desktop.shell.window import Window
window = Window()
window.show()
window.open_photos([Path("/tmp/photos") / name for name in folder.NAMES])
end = time.monotonic() + 60
while (window.busy or len(window.table.prints) < 9) and time.monotonic() < end:
    app.processEvents()
    time.sleep(0.01)
assert len(window.table.prints) == 9, len(window.table.prints)
assert app.platformName() == "xcb", app.platformName()
from zinc_margin.desktop.shell.guidance import guide_text
assert "loupe" in guide_text()
assert window.grab().save("/tmp/window.png")
import os
os._exit(0)
PY
xvfb-run -a -s "-screen 0 1280x800x24" /usr/lib/zinc-margin/bin/python3 /tmp/window.py
SH
inside dpkg --purge zinc-margin >/dev/null
every_path > "$work/after"
diff "$work/before" "$work/after" > "$work/left" || true
grep '^>' "$work/left" | grep -v ' ./var/\(log\|lib/dpkg\|cache/fontconfig\)' && fail "something stays after purging"
cp "$root/tmp/window.png" "${2:-/dev/null}"
printf '%s\n' "The package was installed, used and removed."
