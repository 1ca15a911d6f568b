#!/usr/bin/env bash
# Slurm on this one machine, without systemd and without cgroups, brought up as root for one run of a sweep, and taken
# down again. Needs Debian's packages slurmctld, slurmd, slurm-client and munge, and `tin-crown` on the PATH.
#
#   examples/cluster/slurm_one_node.sh [ENCOUNTER] [TASKS]
#
# It shows that a task which is killed is run again by the queue and goes on where it stopped, and that the shards
# put together are, byte for byte, what one machine writes.
set -euo pipefail

here=$(cd "$(dirname "$0")" && pwd)
encounter=$(realpath "${1:-$here/../../crates/tin-crown/demo/first-shelf.toml}")
tasks=${2:-8}
axis=${AXIS:-kind.beetle.motion.patrol.speed=20..120/0.02}
work=$(mktemp -d /tmp/one-node.XXXXXX)
mkdir -p "$work"/{state,spool,parts,log}

say() { printf '\n== %s\n' "$*"; }

# Daemons that this script starts are stopped with it.
stop() {
    for daemon in slurmd slurmctld; do
        [ -f "$work/$daemon.pid" ] && kill "$(cat "$work/$daemon.pid")" 2>/dev/null || true
    done
    [ -f "$work/munged.pid" ] && kill "$(cat "$work/munged.pid")" 2>/dev/null || true
}
trap stop EXIT

say "authentication: munge"
# A key and a socket of its own, so that one that runs already is left alone.
dd if=/dev/urandom of="$work/munge.key" bs=1 count=1024 2>/dev/null
chmod 600 "$work/munge.key"
chmod 755 "$work"
munged --key-file="$work/munge.key" --socket="$work/munge.socket" --pid-file="$work/munged.pid" \
    --log-file="$work/log/munged.log" --seed-file="$work/munge.seed" --force
munge --socket="$work/munge.socket" --no-input | unmunge --socket="$work/munge.socket" | head -1

say "controller and node"
cat > "$work/slurm.conf" <<CONF
ClusterName=one
SlurmctldHost=$(hostname)(127.0.0.1)
AuthType=auth/munge
AuthInfo=socket=$work/munge.socket
SlurmUser=root
SlurmdUser=root
StateSaveLocation=$work/state
SlurmdSpoolDir=$work/spool
SlurmctldPidFile=$work/slurmctld.pid
SlurmdPidFile=$work/slurmd.pid
SlurmctldLogFile=$work/log/slurmctld.log
SlurmdLogFile=$work/log/slurmd.log
SlurmctldPort=16817
SlurmdPort=16818
# Processes are found by who started them: there are no cgroups.
ProctrackType=proctrack/linuxproc
TaskPlugin=task/none
JobAcctGatherType=jobacct_gather/none
SwitchType=switch/none
MpiDefault=none
SelectType=select/cons_tres
SelectTypeParameters=CR_CPU
# A task that fails is put back at once, and may start again soon.
JobRequeue=1
SchedulerParameters=batch_sched_delay=1,requeue_delay=1
ReturnToService=2
SlurmdParameters=config_overrides
NodeName=$(hostname) NodeAddr=127.0.0.1 CPUs=$(nproc) State=UNKNOWN
PartitionName=all Nodes=ALL Default=YES MaxTime=INFINITE State=UP
CONF
printf 'CgroupAutomount=no\n' > "$work/cgroup.conf"
export SLURM_CONF=$work/slurm.conf
slurmctld
slurmd -N "$(hostname)"
for _ in $(seq 60); do
    sinfo --noheader --format=%T 2>/dev/null | grep -q idle && break
    sleep 0.5
done
sinfo

say "a job array of $tasks tasks"
cp "$encounter" "$work/"
cd "$work"
job=$(sbatch --parsable --array="1-$tasks" --chdir="$work" "$here/sweep.sbatch" "$(basename "$encounter")" parts "$axis")
echo "job $job"

# One task is killed in the middle of its work.
for _ in $(seq 200); do
    [ -s parts/part-2.jsonl.part ] && [ "$(wc -l < parts/part-2.jsonl.part)" -gt 20 ] && break
    sleep 0.05
done
pkill -KILL -f 'part-2.jsonl' && echo "task 2 is killed with $(wc -l < parts/part-2.jsonl.part) lines written"

for _ in $(seq 600); do
    [ -z "$(squeue --noheader)" ] && break
    sleep 0.5
done
squeue
head -n 20 sweep-2.log

say "the shards, put together"
ls parts
tin-crown study merge parts/part-*.jsonl --format jsonl -o merged.jsonl
tin-crown study sweep "$(basename "$encounter")" --vary "$axis" --format jsonl -o alone.jsonl
cmp merged.jsonl alone.jsonl
echo "$(wc -l < merged.jsonl) lines, byte for byte those of one machine"

say "one shard is missing, one is there twice"
mkdir incomplete && cp parts/part-[^3]*.jsonl incomplete/
tin-crown study merge incomplete/*.jsonl --format csv -o /dev/null || true
tin-crown study merge parts/*.jsonl parts/part-4.jsonl --format csv -o /dev/null || true
