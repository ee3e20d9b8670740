#!/usr/bin/env bash
# installed.sh BUILD: what is installed works from wherever it lies, knows nothing of where it was built, and says of
# itself what it can do: in its man pages, to the shell, to the desktop.
set -euo pipefail
build=$(realpath "$1")
folder=$(mktemp -d)
trap 'rm -rf "$folder"' EXIT
fail() { echo "FAIL: $1"; exit 1; }
export XDG_CACHE_HOME=$folder/cache XDG_CONFIG_HOME=$folder/config XDG_STATE_HOME=$folder/state HOME=$folder
unset FULVEX_SHARE
cmake --install "$build" --prefix "$folder/first" >/dev/null
mv "$folder/first" "$folder/elsewhere"
root=$folder/elsewhere
batch=$root/bin/fulvex-batch
version=$(sed -n 's/^project(fulvex VERSION \([0-9.]*\).*/\1/p' "$(sed -n 's/^CMAKE_HOME_DIRECTORY:INTERNAL=//p' "$build/CMakeCache.txt")/CMakeLists.txt")

[ "$("$batch" --version)" = "fulvex-batch $version" ] || fail "the batch program has another version"
[ "$(QT_QPA_PLATFORM=offscreen "$root/bin/fulvex" --version)" = "Fulvex $version" ] || fail "the program has another version"
grep -q "release version=\"$version\"" "$root/share/metainfo/fulvex.metainfo.xml" || fail "the metadata have another version"
[ "$(zcat "$root/share/doc/fulvex/changelog.gz" | sed -n '1s/^fulvex (\(.*\)) .*/\1/p')" = "$version" ] || fail "the changelog has another version"

# Masks, the demo and the reader of MAT files are found where they lie now.
status=0
"$batch" run -q "$root/share/fulvex/demo/brackwater.fulvex" --out "$folder/report" || status=$?
[ $status = 1 ] || fail "the demo gave status $status, not 1 (its mask fails)"
"$batch" info "$(sed -n 's/^CMAKE_HOME_DIRECTORY:INTERNAL=//p' "$build/CMakeCache.txt")/tests/fixtures/level5.mat" >/dev/null || fail "a MAT file cannot be read"
for program in bin/fulvex bin/fulvex-batch bin/fulvex-simulator libexec/fulvex/fulvex-reader; do
  ! grep -qF "$build" "$root/$program" || fail "$program names the folder that it was built in"
done

# Every option and every subcommand stands in the man page.
page=$(zcat "$root/share/man/man1/fulvex-batch.1.gz" | sed 's/\\-/-/g')
for command in $("$batch" --help | sed -n '/^Subcommands:/,$ s/^  \([a-z]\{1,\}\) .*/\1/p'); do
  grep -q "^\.SS $command " <<<"$page" || fail "the man page has no $command"
  for option in $("$batch" "$command" --help | grep -o '^  *--[a-z-]*'); do
    grep -qe "^\.B $option" <<<"$page" || fail "the man page has no $option of $command"
  done
done

# The shell completes subcommands, their options, files.
complete_line() { # words of a line, the last of which is to be completed
  env PATH="$root/bin:$PATH" bash -c 'source "$0"; COMP_WORDS=("$@"); COMP_CWORD=$(($# - 1)); compopt() { :; }; _fulvex_batch; echo "${COMPREPLY[*]}"' \
    "$root/share/bash-completion/completions/fulvex-batch" "$@"
}
[ "$(complete_line fulvex-batch wa)" = watch ] || fail "wa is not completed to watch"
[ "$(complete_line fulvex-batch run --pop)" = --populations ] || fail "run --pop is not completed"
[ "$(complete_line fulvex-batch watch --pop)" = "" ] || fail "watch has no --populations"
[ "$(complete_line fulvex-batch run "$root/share/fulvex/demo/brackwater.f")" = "$root/share/fulvex/demo/brackwater.fulvex" ] || fail "files are not completed"

# The desktop knows the program by each kind of its files.
for type in project pack plan mask; do
  grep -q "type=\"application/x-fulvex-$type\"" "$root/share/mime/packages/fulvex.xml" || fail "no type $type"
  grep -q "^MimeType=.*application/x-fulvex-$type;" "$root/share/applications/fulvex.desktop" || fail "$type does not open"
done
