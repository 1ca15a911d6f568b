#!/usr/bin/env bash
# A sweep on the cores of this machine, or with --sshloginfile on others, by GNU parallel: one job for each shard.
#
#   examples/cluster/parallel.sh [ENCOUNTER] [SHARDS]
#
# A shard that fails is run again, and goes on where it stopped.
set -euo pipefail

here=$(cd "$(dirname "$0")" && pwd)
encounter=$(realpath "${1:-$here/../../crates/tin-crown/demo/first-shelf.toml}")
shards=${2:-6}
axis=${AXIS:-kind.beetle.motion.patrol.speed=20..120/0.5}
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
cd "$work"

seq "$shards" | parallel --no-notice --jobs 2 --retries 3 --halt soon,fail=1 --joblog jobs.log \
    tin-crown study sweep "$encounter" --vary "$axis" --threads 1 --shard "{}/$shards" \
    --format jsonl -o part-{}.jsonl --resume
tin-crown study merge part-*.jsonl --format jsonl -o merged.jsonl
tin-crown study sweep "$encounter" --vary "$axis" --format jsonl -o alone.jsonl
cmp merged.jsonl alone.jsonl
echo "$shards shards, $(wc -l < merged.jsonl) lines, byte for byte those of one process"
