#!/usr/bin/env python3
"""Room borders and the share of tests. A room may include what its CMake file says it uses, and what those may include."""
import pathlib, re, sys

root = pathlib.Path(__file__).resolve().parent.parent
uses = {"base": [], "geometry": ["base"], "picture": ["base", "geometry"], "artwork": ["picture"], "trace": ["artwork"],
        "mend": ["artwork"], "formats": ["artwork"], "shop": ["base"], "plan": ["artwork", "shop"], "job": ["plan", "nest"],
        "nest": ["geometry"], "toolpath": ["job"], "proof": ["toolpath"], "print": ["proof"], "program": ["toolpath"], "kit": ["formats", "mend", "program", "print"], "link": ["program"],
        "standin": ["program", "link"]}


def allowed(room, seen=None):
    seen = set() if seen is None else seen
    if room not in seen:
        seen.add(room)
        for other in uses.get(room, []):
            allowed(other, seen)
    return seen


everything = set(uses) | {"app", "cli"}
bad = 0
for file in sorted((root / "src").rglob("*.[hc]*")):
    if file.suffix not in (".h", ".cpp"):
        continue
    room = file.relative_to(root / "src").parts[0]
    may = everything if room == "app" else everything - {"app"} if room == "cli" else allowed(room)
    for number, line in enumerate(file.read_text().splitlines(), 1):
        match = re.match(r'#include [<"]([a-z]+)/', line)
        if match and match[1] in everything and match[1] not in may:
            print(f"{file.relative_to(root)}:{number}: room {room} may not use {match[1]}")
            bad += 1
        if room != "app" and re.match(r"#include <Q", line):
            print(f"{file.relative_to(root)}:{number}: Qt belongs to the window only")
            bad += 1

# A semicolon parts lists in CMake: half a name would match no test, and pass.
for file in sorted((root / "tests").rglob("*.cpp")):
    for name in re.findall(r'TEST_CASE\("([^"]*)"', file.read_text()):
        if ";" in name:
            print(f"{file.relative_to(root)}: a test's name may not hold a semicolon: {name}")
            bad += 1

count = lambda folder: sum(len(f.read_text().splitlines()) for f in (root / folder).rglob("*") if f.suffix in (".h", ".cpp"))
code, tests = count("src"), count("tests")
share = 100 * tests / (code + tests)
print(f"tests are {share:.0f} % of {code + tests} lines of C++")
if code > 500 and not 20 <= share <= 36:
    print("between a quarter and a third is wanted")
    bad += 1
sys.exit(1 if bad else 0)
