#!/usr/bin/env bash
# compare.sh BUILD_FOLDER: runs each headline pipeline and its NumPy twin in turns on the same data; prints ratios.
set -euo pipefail
export QT_LOGGING_RULES=default.warning=false # what an offscreen platform cannot do
here=$(cd "$(dirname "${BASH_SOURCE[0]}")" && pwd)
folder=$1
data=$folder/link
for kind in linear instants; do
  ours=($("$folder/fulvex-bench-link" "$data" "$kind"))
  theirs=($(/usr/bin/python3 "$here/link_pipeline_numpy.py" "$data" "$kind"))
  files=$(($(stat -c %s "$data-p.npy") + $(stat -c %s "$data-n.npy")))
  awk -v kind="$kind" -v a="${ours[*]}" -v b="${theirs[*]}" -v files="$files" 'BEGIN {
    split(a, o, " "); split(b, t, " ")
    printf "link pipeline, %s instants: %.0f M samples/s, %.0f times NumPy (%.0f M samples/s); peak memory %.2f x the files; vectors: %s\n",
           kind, o[2] / o[1] / 1e6, t[1] / o[1], t[2] / t[1] / 1e6, o[6] / files, o[7]
    printf "  the same answer? edges %d and %d, rms error %.6f and %.6f UI, samples counted %d and %d\n", o[3], t[3], o[4], t[4], o[5], t[5]
  }'
done
beside=($("$folder/fulvex-bench-link" "$data" plain)) # which fails where the answers differ
awk -v a="${beside[*]}" 'BEGIN {
  split(a, o, " ")
  printf "link pipeline, linear instants: %.1f times the plain version in double, sample by sample (limit 6 with AVX-512, 4 with AVX2); the machine reads %.0f M samples/s, increments %.0f M/s, the pipeline takes %.0f M/s\n",
         o[2] / o[1], o[3] / 1e6, o[4] / 1e6, 50 / o[1]
}'
"$folder/fulvex-bench-link" "$data" kinds | # as "plain" does
  awk '{ printf "%s%s %.1f", NR == 1 ? "the same of other samples, times the plain version: " : ", ", $1, $3 / $2 } END { print "" }'
"$folder/fulvex-bench-link" "$data" rates |
  awk '{ printf "%s%d: %.0f M samples/s, %.1f", NR == 1 ? "the same by samples a unit interval, and times the plain version: " : "; ", $1, $2 / 1e6, $4 / $3 } END { print "" }'
levels=($("$folder/fulvex-bench-link" "$data" levels)) # which fails where edges or errors are not the record's
awk -v a="${levels[*]}" 'BEGIN { split(a, o, " "); printf "link pipeline of three levels: %.1f times the time of two (2 is wanted), %.1f times the plain version of two (3 is half of what two levels have to be)\n", o[2] / o[1], o[3] / o[2] }'
frames=($("$folder/fulvex-bench-draw" "$data"))
echo "drawing 2 x 50 million samples, random pans and zooms: median ${frames[0]} ms, 99 % below ${frames[1]} ms a frame (16 ms is the limit)"
echo "a project on 2 x 50 million samples (limits: stalls 16 ms at 99 %, 50 ms at worst; a first picture within 50 ms, ten a second):"
"$folder/fulvex-bench-latency" "$data" | sed 's/^/  /'
# In turns, the best of three each: the machine may be busy.
cold=$folder/cold-cache
for turn in 1 2 3; do
  rm -rf "$cold"
  start=$(date +%s.%N)
  XDG_CACHE_HOME=$cold "$folder/../src/batch/fulvex-batch" run "$data-latency.fulvex" --out "$folder/latency-report" >/dev/null
  awk -v from="$start" -v to="$(date +%s.%N)" 'BEGIN { print "batch", to - from }'
  for kind in instants document; do echo "$kind $("$folder/fulvex-bench-link" "$data" "$kind")"; done
done | awk '!($1 in best) || $2 < best[$1] { best[$1] = $2 } END {
  printf "that project in batch, with check, hashes and reports: %.2f s, %.1f times the bare pipeline with an eye as fine (limit 3), %.1f times with one of the samples alone\n",
         best["batch"], best["batch"] / best["document"], best["batch"] / best["instants"]
}'
rm -rf "$cold"
cp "$here/everything.fulvex" "$folder/everything.fulvex"
bare=($("$folder/fulvex-bench-link" "$data" document))
start=$(date +%s.%N)
"$folder/../src/batch/fulvex-batch" run "$folder/everything.fulvex" --out "$folder/everything-report" --verbose 2>&1 >/dev/null |
  awk '/ in [0-9.]+ s$/' >"$folder/everything.txt"
awk -v bare="${bare[0]}" -v from="$start" -v to="$(date +%s.%N)" '{ took[NR] = $(NF - 1); name[NR] = $0; sub(/^ */, "", name[NR]); sub(/:.*/, "", name[NR]); all += took[NR] }
  END { printf "all that can be asked of those samples, some sixty entries with its report: %.0f times the bare pipeline with an eye as fine; of its nodes", (to - from) / bare
        for (i = 1; took[i] > all / 40; ++i) printf "%s %s %.0f %%", i == 1 ? ":" : ",", name[i], 100 * took[i] / all
        print "" }' "$folder/everything.txt"
rm -r "$folder/everything-report" "$folder/everything.txt" "$folder/everything.fulvex"
ours=($(for turn in 1 2 3; do "$folder/fulvex-bench-rows" "$folder/rows.npy"; done | sort -g | head -1))
theirs=($(/usr/bin/python3 "$here/rows_numpy.py" "$folder/rows.npy" 1e-4 1e-9))
awk -v a="${ours[*]}" -v b="${theirs[*]}" 'BEGIN {
  split(a, o, " "); split(b, t, " ")
  printf "twenty quantities of 50 million samples with 10 million edges: %.1f times NumPy (limit 20), %d MB beyond the file (limit 1000); one more %.0f ms, a changed limit %.1f ms\n",
         t[1] / o[1], o[2], 1000 * o[6], 1000 * o[7]
  printf "  the same answer? edges %d and %d, period %s and %s, rise time %s and %s\n", o[3], t[2], o[4], t[3], o[5], t[4]
}'
ours=($("$folder/fulvex-bench-filter" "$folder/filter.npy"))
theirs=($(/usr/bin/python3 "$here/filter_scipy.py" "$folder/filter.npy"))
awk -v a="${ours[*]}" -v b="${theirs[*]}" 'BEGIN {
  split(a, o, " "); split(b, t, " ")
  split("low pass of order 4 (4 is wanted)|FIR of 545 taps, overlap-add (4 is wanted)|formula sample by sample (5 is wanted)|averaged spectrum, segments of 16384", what, "|")
  print "20 million samples through a formula, by SciPy:"
  for (i = 1; i <= 4; ++i)
    printf "  %s: %.1f times; the same answer? rms %s and %s\n", what[i], t[2 * i - 1] / o[2 * i - 1], o[2 * i], t[2 * i]
}'
ours=($("$folder/fulvex-bench-jitter" "$folder/jitter.bin"))
theirs=($(/usr/bin/python3 "$here/jitter_numpy.py" "$folder/jitter.bin"))
awk -v a="${ours[*]}" -v b="${theirs[*]}" 'BEGIN {
  split(a, o, " "); split(b, t, " ")
  printf "jitter of 10 million edges taken apart: %.2f s (limit 2), %.1f times NumPy, %d MB (limit 500)\n", o[1], t[1] / o[1], o[2]
  printf "  the same answer, ps? random %s and %s, periodic %s and %s, pattern %s and %s, total %s and %s\n", o[3], t[2], o[4], t[3], o[5], t[4], o[6], t[5]
}'
rm -f "$folder/jitter.bin"
"$folder/fulvex-bench-run" "$folder/runs" "$folder/../demo/fulvex-simulator"
rm -rf "$folder/runs"
"$folder/fulvex-bench-live" "$folder/live" "$folder/../demo/fulvex-simulator" 2>/dev/null
rm -rf "$folder/live"
values=($("$folder/fulvex-bench-values"))
echo "10 million values: a frame of histogram ${values[0]} ms, trend ${values[2]} ms, scatter ${values[4]} ms (limit 16), drawn beside it in ${values[1]}, ${values[3]}, ${values[5]} ms; worst moments of some bars after ${values[6]} ms, of all ${values[7]} ms (limit 100), outliers ${values[8]} ms"
opened=($("$folder/fulvex-bench-open" "$folder/billion.npy"))
echo "a billion 16-bit samples: first picture after ${opened[0]} s with ${opened[1]} MB (limits 1 s, 500 MB), all of them after ${opened[2]} s, opened again ${opened[3]} s, at most ${opened[4]} MB"
ours=($("$folder/fulvex-bench-text" "$folder/table.csv"))
theirs=($(/usr/bin/python3 "$here/text_numpy.py" "$folder/table.csv"))
awk -v a="${ours[*]}" -v b="${theirs[*]}" 'BEGIN {
  split(a, o, " "); split(b, t, " ")
  printf "text table: %.0f MB/s, %.1f times numpy.loadtxt (%.0f MB/s); the same bits? %s and %s\n", o[2] / o[1] / 1e6, t[1] / o[1], t[2] / t[1] / 1e6, o[3], t[3]
}'
"$folder/fulvex-bench-kernels" --benchmark_min_time=0.2 2>/dev/null
