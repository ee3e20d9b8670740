# Makes a man page of PAGE.in: its line .OPTIONS becomes what the program says of itself (--help, and that of each of its
# subcommands), its line .COMMANDS a section for each of these.
#   awk -v program=PATH -f options.awk PAGE.in
function escaped(words) {
  gsub(/\\/, "\\e", words)
  gsub(/-/, "\\-", words)
  return words
}
# An option or a subcommand, what it is called and what it is for.
function tell(name, words) {
  sub(/:[A-Z]*:? ?in /, " in ", name)
  gsub(/:POSITIVE/, "", name)
  gsub(/:\{[^}]*\}/, "", name)
  gsub(/,/, ", ", name)
  sub(/ Excludes:.*/, "", name)
  sub(/ +$/, "", name)
  print ".TP\n.B " escaped(name) "\n" escaped(words)
}
# Lines "  NAME   words" below "Options:" or "Subcommands:"; long names have their words on the next line.
function options(command, section,    line, inside, name) {
  while ((command | getline line) > 0) {
    if (line ~ /^[A-Z][a-z]*:$/) { inside = line == section; continue }
    if (!inside || line == "") continue
    if (line ~ /^  [^ ]/) {
      if (name != "") tell(name, "")
      name = substr(line, 3, 28)
      if (length(line) > 30 && substr(line, 30, 1) == " ") { tell(name, substr(line, 31)); name = "" }
      else name = substr(line, 3)
      continue
    }
    sub(/^ +/, "", line)
    tell(name, line)
    name = ""
  }
  close(command)
}
/^\.OPTIONS$/ { options(program " --help", "Options:"); next }
/^\.COMMANDS$/ {
  listing = program " --help"
  count = 0
  while ((listing | getline line) > 0) {
    if (line ~ /^Subcommands:/) inside = 1
    else if (inside && line ~ /^  [a-z]/) { split(line, part, " "); names[++count] = part[1] }
  }
  close(listing)
  for (i = 1; i <= count; ++i) {
    help = program " " names[i] " --help"
    help | getline words
    help | getline usage
    close(help)
    sub(/^Usage: +[^ ]* /, "", usage)
    print ".SS " escaped(usage)
    print escaped(words) "."
    options(help, "Options:")
  }
  next
}
{ print }
