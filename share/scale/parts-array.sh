#!/bin/sh
# An array job of a queueing system, a capture a task. LIST names a file with a capture a line:
#   sbatch --array=1-$(wc -l < LIST) parts-array.sh PROJECT ID PARTS LIST
# Systems other than Slurm set another variable for the task's number: give it as TASK. Parts that are there stay, so
# that the same array once more does what is missing.
#SBATCH --cpus-per-task=2
#SBATCH --mem=2G
set -eu
task=${TASK:-${SLURM_ARRAY_TASK_ID:-${PBS_ARRAY_INDEX:-${SGE_TASK_ID:-}}}}
[ -n "$task" ] || { echo "no number of a task: set TASK" >&2; exit 2; }
here=${FULVEX_SCALE:-/usr/share/fulvex/scale}
capture=$(sed -n "${task}p" "$4")
[ -n "$capture" ] || { echo "line $task of $4 is empty" >&2; exit 2; }
exec "$here/parts-here" "$1" "$2" "$3" 1 --one "$capture"
