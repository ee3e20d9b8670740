#!/usr/bin/env bash
# make.sh BUILD [try]: the .deb and the portable archive of a build, in BUILD/package, looked at by the tools that know
# what is wanted of each part. With "try" both are then installed, used and removed in a bare Debian 12.
set -euo pipefail
here=$(dirname "$(realpath "${BASH_SOURCE[0]}")")
build=$(realpath "$1")
out=$build/package
rm -rf "$out"
desktop-file-validate "$here/fulvex.desktop"
appstreamcli validate --no-net "$build/packaging/fulvex.metainfo.xml"
for page in "$build"/packaging/*.1; do mandoc -Tlint -W warning "$page"; done
(cd "$build" && cpack >"$build/cpack.log" 2>&1) || { cat "$build/cpack.log"; exit 1; }
package=$(echo "$out"/*.deb)
lintian --allow-root --fail-on error,warning "$package"
echo "$package: nothing to object to"
version=$(dpkg-deb -f "$package" Version)
"$here/portable.sh" "$build" "fulvex-$version-linux-$(uname -m)" "$out"
[ "${2:-}" != try ] || "$here/try.sh" "$package" "$out/fulvex-$version-linux-$(uname -m).tar.gz"
