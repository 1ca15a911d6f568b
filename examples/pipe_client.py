#!/usr/bin/env python3
"""Plays a drill through the pipe and compares: python3 pipe_client.py tin-crown FILE DRILL"""

import json
import subprocess
import sys

tool, file, drill = sys.argv[1:]

# What the drill comes to by itself, and which buttons went down and up on each tick.
replay = [tool, "replay", file, "--drill", drill, "--format", "jsonl"]
ledger = subprocess.run(replay, capture_output=True, text=True).stdout.splitlines()
header, expected = json.loads(ledger[0]), [json.loads(line) for line in ledger[1:]]
ended = expected[-1].get("outcome") == "ended"
last = expected[-1]["tick"]
if ended:
    expected.pop()  # Only a drill has an end: an open run goes on.
buttons = {}
for line in expected:
    if line["event"] == "input":
        on = buttons.setdefault(line["tick"], {}).setdefault(line["who"], {})
        on[line["button"]] = line["down"]

pipe = subprocess.Popen(
    [tool, "step", file, "--seed", str(header["seed"])],
    stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True, bufsize=1,
)


def ask(line):
    print(json.dumps(line), file=pipe.stdin)
    return json.loads(pipe.stdout.readline())


hello = json.loads(pipe.stdout.readline())
assert hello["pipe"] == 1, hello
lines = hello["events"]
for tick in range(1, last + 1):
    lines += ask({"buttons": buttons.get(tick, {})})["events"]
pipe.stdin.close()
assert pipe.wait() == 0
assert lines == expected, "the lines differ from those of the replay"
print(f"{drill}: {last} ticks, {len(lines)} lines, as replayed")
