#!/usr/bin/env bash
# try.sh PACKAGE ARCHIVE: in a bare Debian 12, made for this by debootstrap (as root): installs the package, uses it,
# removes it and looks what it left behind; then runs the portable copy with nothing installed.
set -euo pipefail
package=$(realpath "$1") archive=$(realpath "$2")
bare=$(mktemp -d)
chmod 755 "$bare" # whoever fetches packages is nobody
trap 'umount "$bare/proc" 2>/dev/null || true; rm -rf "$bare"' EXIT
command -v debootstrap >/dev/null || apt-get install -y -qq debootstrap >/dev/null
mirror=$(apt-get indextargets --format '$(SITE)' 'Codename: bookworm' | grep -v security | sort -u | head -1)
echo "a bare Debian 12"
debootstrap --variant=minbase bookworm "$bare" "$mirror" >"$bare.log" 2>&1 || { tail "$bare.log"; exit 1; }
rm -f "$bare.log"
# Packages come from where this machine has its own.
rm -rf "$bare"/etc/apt/sources.list*
cp -r /etc/apt/. "$bare/etc/apt/"
cp /etc/resolv.conf "$bare/etc/" 2>/dev/null || true
mount -t proc proc "$bare/proc"
inside() { chroot "$bare" env -i HOME=/root PATH=/usr/sbin:/usr/bin:/sbin:/bin LANG=C.UTF-8 QT_QPA_PLATFORM=offscreen XDG_RUNTIME_DIR=/tmp DEBIAN_FRONTEND=noninteractive "$@"; }
fail() { echo "FAIL: $1"; exit 1; }

# What a run of the demo has to give: a failed mask, so status 1, and its report.
use() {
  local programs=$1 demo=$2
  inside "$programs/fulvex" --version
  inside "$programs/fulvex-batch" --version
  inside rm -rf /tmp/report
  local status=0
  inside "$programs/fulvex-batch" run -q "$demo/brackwater.fulvex" --out /tmp/report || status=$?
  [ $status = 1 ] || fail "the demo gave status $status, not 1"
  [ -s "$bare/tmp/report/report.pdf" ] || fail "no report"
  # The window opens, and is still there after a while.
  status=0
  inside timeout 10 "$programs/fulvex" "$demo/brackwater.fulvex" || status=$?
  [ $status = 124 ] || fail "the window ended by itself, status $status"
}

echo "the portable copy"
tar -C "$bare/opt" -xzf "$archive"
inside apt-get update -qq
# What a desktop has, and this bare system not.
inside apt-get install -y -qq --no-install-recommends libgl1 libegl1 libfontconfig1 libfreetype6 libx11-6 libx11-xcb1 libxcb1 libxcb-glx0 libxcb-randr0 libxcb-shape0 libxcb-shm0 libxcb-sync1 libxcb-xfixes0 libxcb-render0 libdbus-1-3 libglib2.0-0 fonts-dejavu-core >/dev/null 2>&1
folder=$(basename "$archive" .tar.gz)
use "/opt/$folder/bin" "/opt/$folder/share/fulvex/demo"
inside sh -c "LD_LIBRARY_PATH= ldd /opt/$folder/lib/qt6/plugins/platforms/libqxcb.so | grep 'not found'" && fail "the window would not open on a display"
rm -rf "$bare/opt/$folder"

echo "the package"
inside apt-get install -y -qq --no-install-recommends shared-mime-info >/dev/null 2>&1
inside sh -c 'find / -xdev -not -path "/proc/*" -not -path "/tmp/*" -not -path "/var/*" -not -path "/root/*" | sort' >"$bare/tmp/before"
cp "$package" "$bare/tmp/fulvex.deb"
inside apt-get install -y -qq --no-install-recommends /tmp/fulvex.deb >"$bare/tmp/apt.log" 2>&1 || { tail "$bare/tmp/apt.log"; fail "it cannot be installed"; }
use /usr/bin /usr/share/fulvex/demo
inside sh -c 'cd /tmp && touch a.fulvexpack a.fulvexplan a.mask.json'
grep -q 'application/x-fulvex-mask:\*.mask.json' "$bare/usr/share/mime/globs" || fail "file types are not known"
inside apt-get purge -y -qq fulvex >/dev/null 2>&1
inside apt-get autoremove -y -qq --purge >/dev/null 2>&1
left=$(inside sh -c 'find / -xdev -not -path "/proc/*" -not -path "/tmp/*" -not -path "/var/*" -not -path "/root/*" | sort | comm -13 /tmp/before - | grep -i fulvex' || true)
[ -z "$left" ] || fail "it left behind: $left"
echo "installed, used and removed; nothing was left behind"
