"""Makes small faults in the core, one at a time, and tells which of them the core's tests do not notice.

Usage: faults.py TREE COUNT SEED [FOLDER …]

TREE is a copy of the sources with core-tests built source by source in build/single; it is changed and put right again. A
fault is an operator, a constant or a bound that is another one. One that does not compile is no fault; one whose test
program ends too late is noticed. Tests of the fault's own folder come first, then all others. Faults that nobody
notices are printed with their place; the exit status is 1 where these are more than one in ten.
"""

import os
import pathlib
import random
import re
import resource
import shutil
import subprocess
import sys
import time

FAULTS = [
    (r" \+ ", " - "), (r" - ", " + "), (r" \* ", " / "), (r" / ", " * "),
    (r" < ", " <= "), (r" <= ", " < "), (r" > ", " >= "), (r" >= ", " > "), (r" == ", " != "), (r" != ", " == "),
    (r" && ", " || "), (r" \|\| ", " && "), (r" \+= ", " -= "), (r" -= ", " += "),
    (r"std::min\(", "std::max("), (r"std::max\(", "std::min("),
    (r"\btrue\b", "false"), (r"\bfalse\b", "true"), (r"if \(!", "if ("),
    (r"(?<![\w.'])(?<![eE]-)(\d+)(?![\w.'])", lambda match: str(int(match[1]) + max(1, int(match[1]) // 2))),
    (r"(?<![\w.'])(\d+\.\d+)(?![\w.'])", lambda match: str(float(match[1]) * 1.5 + (float(match[1]) == 0))),
]
# Where a change is none of the program: words, includes, what is not compiled, and reserves of memory.
IDLE = re.compile(r'^\s*(//|#|template|static_assert|assert|using|friend)|"|\breserve\(|progress|Progress')
PATIENCE = 3  # times as long as without a fault
ALL_TAKE = 600  # s, those of all folders
STATISTICS = "Uncertainty.SaysHowFarValuesStray:HostileFiles.ForeignFiles"  # the same code some thousand times
MEMORY = 6 << 30  # bytes: a loop without an end shall not take all there are


def places(tree, folders):
    """Every fault there is: file, line, column, end, what stands there then."""
    found = []
    for file in sorted((tree / "src/core").glob("*/**/*.cpp")):
        if folders and file.relative_to(tree / "src/core").parts[0] not in folders:
            continue
        for number, line in enumerate(file.read_text().split("\n")):
            code = line.split("//")[0]
            if IDLE.search(code):
                continue
            for what, instead in FAULTS:
                for match in re.finditer(what, code):
                    text = instead(match) if callable(instead) else instead
                    found.append((file, number, match.start(), match.end(), text))
    return found


def tests_of(tree, folder):
    """The suites that lie in a folder of the tests."""
    suites = set()
    for file in (tree / "tests/core" / folder).glob("*.cpp"):
        suites.update(re.findall(r"^TEST(?:_F|_P)?\((\w+),", file.read_text(), re.M))
        suites.update(re.findall(r"^RC_GTEST_\w+\((\w+),", file.read_text(), re.M))
    return ":".join(f"{suite}.*:*/{suite}.*" for suite in sorted(suites))


class Tests:
    """The program's tests of one folder, or all others; as long as they may take."""

    def __init__(self, tree, program):
        self.tree, self.program, self.lasted = tree, program, {}

    def filters(self, folder):
        own = tests_of(self.tree, folder)
        return ([own] if own else []) + ["-" + ":".join(filter(None, [own, STATISTICS]))]

    def patience(self, wanted):
        if wanted.startswith("-"):
            return PATIENCE * ALL_TAKE
        if wanted not in self.lasted:
            began = time.monotonic()
            process = start(self.program, wanted)
            if process.wait():
                sys.exit(f"without a fault these fail already: {wanted}")
            self.lasted[wanted] = time.monotonic() - began
        return PATIENCE * self.lasted[wanted] + 10


def start(program, wanted):
    environment = dict(os.environ, GTEST_FAIL_FAST="1", XDG_CACHE_HOME=f"{program}-cache")
    return subprocess.Popen([str(program), "--gtest_filter=" + wanted], env=environment, stdout=subprocess.DEVNULL,
                            stderr=subprocess.DEVNULL, cwd=program.parent, start_new_session=True,
                            preexec_fn=lambda: resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY)))


def copied(built, name):
    """The program in a folder of its own, with the helpers that it starts: the next fault builds these anew."""
    folder = built / f"core-tests-{name}"
    shutil.rmtree(folder, ignore_errors=True)
    folder.mkdir()
    shutil.copytree(built / "libexec", folder / "libexec")
    (folder / "share").symlink_to(built / "share")
    return pathlib.Path(shutil.copy(built / "tests/core-tests", folder))


class Run:
    """The tests of one fault, by a copy of its program."""

    def __init__(self, tests, place, line, program):
        self.tests, self.line, self.program = tests, line, program
        self.file = place[0].relative_to(tests.tree)
        self.left = tests.filters(self.file.parts[2])
        self.next()

    def next(self):
        wanted = self.left.pop(0)
        self.until = self.tests.patience(wanted) + time.monotonic()
        self.process = start(self.program, wanted)

    def noticed(self):
        """None while it is not known."""
        status = self.process.poll()
        late = time.monotonic() > self.until
        if status is None and not late:
            return None
        if status is None:
            os.killpg(self.process.pid, 9)
            self.process.wait()
        if status == 0 and self.left:
            self.next()
            return None
        shutil.rmtree(self.program.parent, ignore_errors=True)
        return status != 0


def build(tree, place):
    """The program with a fault; None where it does not compile."""
    file, number, begin, end, text = place
    right = file.read_text()
    lines = right.split("\n")
    lines[number] = lines[number][:begin] + text + lines[number][end:]
    file.write_text("\n".join(lines))
    try:
        made = subprocess.run(["cmake", "--build", "build/single", "--target", "core-tests"], cwd=tree,
                              capture_output=True)
    finally:
        file.write_text(right)
    return (number + 1, lines[number].strip()) if made.returncode == 0 else None


def main():
    tree, count, seed = pathlib.Path(sys.argv[1]).resolve(), int(sys.argv[2]), int(sys.argv[3])
    wanted = places(tree, sys.argv[4:])
    random.Random(seed).shuffle(wanted)
    built = tree / "build/single"
    sound = copied(built, "sound")
    tests, cores, running, made, unnoticed = Tests(tree, sound), os.cpu_count() or 1, [], 0, []

    def collect(most):
        while len(running) > most:
            for run in list(running):
                noticed = run.noticed()
                if noticed is None:
                    continue
                running.remove(run)
                said = f"{run.file}:{run.line[0]}: {run.line[1]}"
                print(("noticed   " if noticed else "UNNOTICED ") + said, flush=True)
                if not noticed:
                    unnoticed.append(said)
            time.sleep(0.2)

    for place in wanted:
        if made == count:
            break
        line = build(tree, place)
        if line is None:
            continue
        copy = copied(built, made)
        made += 1
        collect(cores - 1)
        running.append(Run(tests, place, line, copy))
    collect(0)
    shutil.rmtree(sound.parent, ignore_errors=True)
    print(f"{made - len(unnoticed)} of {made} noticed")
    return len(unnoticed) * 10 > made


if __name__ == "__main__":
    sys.exit(main())
