# Debian's changelog of CHANGELOG.md: "## VERSION (DATE)" and lists under it.
# An item in lines of no more than 80 columns.
function tell(    words, count, i, line) {
  if (item == "") return
  count = split(item, words, " ")
  line = "  *"
  for (i = 1; i <= count; ++i) {
    if (length(line) + 1 + length(words[i]) > 79) { print line; line = "   " }
    line = line " " words[i]
  }
  print line
  item = ""
}
function close_entry() {
  if (version == "") return
  tell()
  ("LC_ALL=C date -u -R -d " date) | getline when
  print "\n -- " maintainer "  " when "\n"
}
/^## / {
  close_entry()
  version = $2
  date = substr($3, 2, 10)
  print "fulvex (" version ") stable; urgency=medium\n"
  next
}
version != "" && /^- / { tell(); item = substr($0, 3); next }
version != "" && /^  / { item = item " " substr($0, 3) }
END { close_entry() }
