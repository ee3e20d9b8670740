#!/usr/bin/env bash
# portable.sh BUILD NAME FOLDER: makes FOLDER/NAME.tar.gz, a copy that runs from wherever it is unpacked, with the
# libraries that a system need not have. Those that belong to a system stay its own: the C library, drivers, X11, fonts.
set -euo pipefail
build=$(realpath "$1") name=$2 out=$(realpath "$3")
stage=$(mktemp -d)
trap 'rm -rf "$stage"' EXIT
copy=$stage/$name
cmake --install "$build" --prefix "$copy" --strip >/dev/null
mkdir -p "$copy/lib/qt6/plugins" "$copy/share/fulvex/fonts"

# Qt finds its plugins beside the programs.
plugins=$(qmake6 -query QT_INSTALL_PLUGINS)
for plugin in platforms/libqxcb platforms/libqoffscreen imageformats/libqjpeg imageformats/libqsvg platforminputcontexts/libcomposeplatforminputcontextplugin; do
  install -D -m 644 "$plugins/$plugin.so" "$copy/lib/qt6/plugins/$plugin.so"
done
printf '[Paths]\nPrefix=..\nPlugins=lib/qt6/plugins\n' >"$copy/bin/qt.conf"

of_system='^(ld-linux|libc|libm|libdl|libpthread|librt|libresolv|libutil|libstdc\+\+|libgcc_s|libGL|libGLX|libGLdispatch|libEGL|libgbm|libdrm|libX[A-Za-z0-9]*|libxcb|libxcb-[a-z]*|libxshmfence|libfontconfig|libfreetype|libexpat|libz|libdbus-1|libsystemd|libudev|libwayland-[a-z]*|libglib-2\.0|libgio-2\.0|libgobject-2\.0|libgmodule-2\.0|libcom_err)[-.]'
find "$copy/bin" "$copy/libexec" "$copy/lib" -type f \( -perm -u+x -o -name '*.so*' \) -print0 |
  xargs -0 ldd 2>/dev/null | awk '$2 == "=>" && $3 ~ /^\// { print $3 }' | sort -u |
  while read -r library; do
    [[ $(basename "$library") =~ $of_system ]] || cp -Lu "$library" "$copy/lib/"
  done
# What Qt asks of xcb is not on every system: these go along.
for library in libxcb-cursor libxcb-icccm libxcb-image libxcb-keysyms libxcb-render-util libxcb-util libxcb-xkb libxcb-xinerama libxcb-xinput; do
  found=$(ldconfig -p | awk -v name="$library.so" 'index($1, name) == 1 { found = $NF } END { print found }')
  [ -n "$found" ] && cp -Lu "$found" "$copy/lib/"
done
find "$copy/bin" -type f -perm -u+x -exec patchelf --set-rpath '$ORIGIN/../lib' {} +
find "$copy/libexec" -type f -perm -u+x -exec patchelf --set-rpath '$ORIGIN/../../lib' {} +
find "$copy/lib" -maxdepth 1 -name '*.so*' -exec patchelf --set-rpath '$ORIGIN' {} +
find "$copy/lib/qt6" -name '*.so' -exec patchelf --set-rpath '$ORIGIN/../../..' {} +

fonts=$(dpkg-query -L fonts-inter | grep -E 'Inter-(Regular|Medium|SemiBold|Bold|Italic)\.otf$' || true)
[ -n "$fonts" ] && cp $fonts "$copy/share/fulvex/fonts/" && cp /usr/share/doc/fonts-inter/copyright "$copy/share/fulvex/fonts/"
cat >"$copy/README" <<TXT
Fulvex, a workbench for captured waveforms: bin/fulvex starts it, bin/fulvex-batch does the same without a display.
Nothing has to be installed (glibc 2.36 or newer, X11 or XWayland); delete the folder to be rid of it.
The libraries beside it are Debian's, under their own licences: https://packages.debian.org/bookworm/
TXT
tar -C "$stage" --owner=0 --group=0 --sort=name -czf "$out/$name.tar.gz" "$name"
echo "$out/$name.tar.gz"
