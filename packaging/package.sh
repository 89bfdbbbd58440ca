#!/bin/sh
# Build the Debian package: ./zinc package [FOLDER]
#
# It is built inside a fresh root of Debian stable, with that root's Python, from the locked wheels.
# Loops are compiled for each level of processors that this machine reaches. Files have the time of
# the last commit, so building again gives the same package.
set -eu
here=$(CDPATH='' cd -- "$(dirname -- "$0")/.." && pwd)
out=${1:-$here/dist}
suite=trixie
mirror=${DEBIAN_MIRROR:-http://deb.debian.org/debian}
python=3.13

fail() { printf '%s\n' "zinc: $1" >&2; exit 1; }
say() { printf '%s\n' "$1" >&2; }

[ "$(id -u)" = 0 ] || fail "building a package needs root, for its own root of Debian"
for tool in mmdebstrap dpkg-deb git strip; do
    command -v $tool >/dev/null 2>&1 || fail "$tool is missing; on Debian: apt-get install $tool"
done
cd "$here"
version=$(sed -n 's/^version = "\(.*\)"/\1/p' pyproject.toml)
SOURCE_DATE_EPOCH=$(git log -1 --format=%ct)
export SOURCE_DATE_EPOCH

work=$(mktemp -d)
root=$work/root
finish() { umount "$root/proc" 2>/dev/null || true; rm -rf "$work"; }
trap finish EXIT INT TERM

say "A fresh root of Debian $suite …"
mmdebstrap --quiet --variant=minbase \
    --include=python3,python3-venv,python3-pip,ca-certificates "$suite" "$root" "$mirror"
# it reaches the network, and package indexes, as this machine does
cp /etc/resolv.conf "$root/etc/resolv.conf"
cp /etc/ssl/certs/ca-certificates.crt "$root/etc/ssl/certs/ca-certificates.crt"
[ ! -f /etc/pip.conf ] || cp /etc/pip.conf "$root/etc/pip.conf"
mount -t proc proc "$root/proc"
inside() { chroot "$root" env -u PYTHONPATH HOME=/tmp "$@"; }

say "Its environment, from the lock …"
place=/usr/lib/zinc-margin
libraries=$place/lib/python$python/site-packages
cp requirements.lock "$root/tmp/"
inside python3 -m venv --without-pip "$place"
inside python3 -m pip --python "$place/bin/python3" install -q --no-compile --no-deps \
    --require-hashes --only-binary :all: -r /tmp/requirements.lock
sh packaging/prune.sh "$root$libraries"
# libraries' own commands, headers, and what only their developers need
find "$root$place/bin" ! -name 'python*' ! -type d -delete
rm -rf "$root$place/include" "$root$place/lib64" "$root$libraries/numpy/_core/include" \
    "$root$libraries/PySide6/scripts" "$root$place/share"
find "$root$libraries" \( -name '*.a' -o -name '*.h' -o -name '*.hpp' -o -name '*.pxd' \
    -o -name '*.pyx' -o -name '*.pyi' \) -type f -delete
# of the others, some were changed after linking, and would no longer load
strip --strip-unneeded "$root$libraries/llvmlite/binding/libllvmlite.so"
git archive HEAD zinc_margin | tar -x -C "$root$libraries"

# Loops know their sources by their time, and bytecode by its content: set times first.
at_epoch() { find "$1" -exec touch -h -d "@$SOURCE_DATE_EPOCH" {} +; }
at_epoch "$root$place"
say "Bytecode, and loops …"
inside "$place/bin/python3" -m compileall -q -j 0 --invalidation-mode unchecked-hash \
    "$libraries" >&2 || fail "some bytecode could not be compiled"
cat > "$root/tmp/loops.py" <<'PY'
import shutil, sys
from pathlib import Path
from zinc_margin.pixels import loop_cache
loop_cache.compiles_itself()
from zinc_margin.commands.compile_loops import compile_all
compile_all()
loop_cache.tell_ready()
for lock in loop_cache.FOLDER.rglob("*lock"):
    lock.unlink()
shutil.copytree(loop_cache.FOLDER, Path(sys.argv[1]))
PY
levels=$(inside "$place/bin/python3" -c \
    'from zinc_margin.pixels.processor import *; print(*levels(description()))')
[ -n "$levels" ] || fail "this processor reaches none of the levels that loops are compiled for"
for level in $levels; do
    inside NUMBA_CPU_NAME="$level" NUMBA_CPU_FEATURES= XDG_CACHE_HOME="/tmp/$level" \
        XDG_STATE_HOME="/tmp/$level" "$place/bin/python3" /tmp/loops.py "/tmp/loops/$level" &
done
wait
for level in $levels; do
    [ -f "$root/tmp/loops/$level/ready" ] || fail "the loops for $level could not be compiled"
done
cp -r "$root/tmp/loops" "$root$place/loops"

say "The package …"
tree=$work/tree
share=$tree/usr/share
mkdir -p "$tree/DEBIAN" "$tree/usr/bin" "$tree/usr/lib" "$share/applications" "$share/metainfo" \
    "$share/icons/hicolor/scalable/apps" "$share/icons/hicolor/16x16/apps" \
    "$share/mime/packages" "$share/man/man1" "$share/doc/zinc-margin" "$share/lintian/overrides" \
    "$share/bash-completion/completions" "$share/zsh/vendor-completions" \
    "$share/fish/vendor_completions.d"
cp -a "$root$place" "$tree$place"
cat > "$tree/usr/bin/zinc-margin" <<PY
#!$place/bin/python3
import sys

from zinc_margin.commands import main

sys.exit(main())
PY
cp packaging/zinc-margin.desktop "$share/applications/"
cp packaging/zinc-margin.metainfo.xml "$share/metainfo/"
cp packaging/zinc-margin.svg "$share/icons/hicolor/scalable/apps/"
cp packaging/16x16/zinc-margin.svg "$share/icons/hicolor/16x16/apps/"
cp packaging/zinc-margin.xml "$share/mime/packages/"
gzip -9nc packaging/zinc-margin.1 > "$share/man/man1/zinc-margin.1.gz"
for shell in bash zsh fish; do
    inside "$place/bin/python3" -m zinc_margin.commands completion $shell > "$work/$shell"
done
cp "$work/bash" "$share/bash-completion/completions/zinc-margin"
cp "$work/zsh" "$share/zsh/vendor-completions/_zinc-margin"
cp "$work/fish" "$share/fish/vendor_completions.d/zinc-margin.fish"
cp docs/guide.md docs/json.md "$share/doc/zinc-margin/"
# *help* reads the guide, and /usr/share/doc may be left out of an installation
mkdir -p "$tree$place/share/doc/zinc-margin"
cp docs/guide.md "$tree$place/share/doc/zinc-margin/"
{
    printf 'zinc-margin (%s) stable; urgency=medium\n\n  * See CHANGELOG.md.gz.\n\n' "$version"
    printf ' -- Zinc Margin <packages@zinc-margin.example>  %s\n' \
        "$(date -u -R -d "@$SOURCE_DATE_EPOCH")"
} | gzip -9n > "$share/doc/zinc-margin/changelog.gz"
gzip -9nc CHANGELOG.md > "$share/doc/zinc-margin/CHANGELOG.md.gz"
inside "$place/bin/python3" - < packaging/debian/copyright.py > "$share/doc/zinc-margin/copyright"
cp packaging/debian/overrides "$share/lintian/overrides/zinc-margin"
depends=$(paste -sd, packaging/debian/depends | sed 's/,/, /g')
size=$(du -sk --apparent-size "$tree" | cut -f1)
sed "s/VERSION/$version/; s/SIZE/$size/; s/DEPENDS/$depends/" packaging/debian/control \
    > "$tree/DEBIAN/control"
find "$tree" -type d -exec chmod 755 {} +
find "$tree" -type f -exec chmod 644 {} +
chmod 755 "$tree/usr/bin/zinc-margin"
(cd "$tree" && find usr -type f -print0 | sort -z | xargs -0 md5sum > DEBIAN/md5sums)
at_epoch "$tree"
mkdir -p "$out"
dpkg-deb --root-owner-group -Zxz --build "$tree" "$out/zinc-margin_${version}_amd64.deb" >/dev/null
printf '%s\n' "$out/zinc-margin_${version}_amd64.deb"
