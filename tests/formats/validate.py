# SPDX-License-Identifier: GPL-3.0-or-later
"""Holds what ships, and what the command line writes, to the published schemas, with a validator that is not ours.

validate.py SOURCE CLI: exits with 1 and says what does not fit.
"""
import copy
import json
import pathlib
import subprocess
import sys
import tempfile

import jsonschema

source, cli = pathlib.Path(sys.argv[1]), sys.argv[2]
problems = []


def validator(name):
    schema = json.loads((source / "docs/formats" / name).read_text())
    kind = jsonschema.validators.validator_for(schema)
    kind.check_schema(schema)
    return kind(schema)


def must_fit(schema, document, what):
    problems.extend(f"{what}: {e.json_path} {e.message}" for e in schema.iter_errors(document))


def must_not_fit(schema, document, what):
    if schema.is_valid(document):
        problems.append(f"{what}: the schema takes it")


dossier = validator("dossier.schema.json")
for path in sorted(source.glob("demos/*/dossier.json")):
    shipped = json.loads(path.read_text())
    must_fit(dossier, shipped, path)
    for key in ("format", "version", "name"):
        broken = copy.deepcopy(shipped)
        del broken[key]
        must_not_fit(dossier, broken, f"{path} without {key}")
    broken = copy.deepcopy(shipped)
    broken["ports"][0]["id"] = 7
    must_not_fit(dossier, broken, f"{path} with a number as id")
with tempfile.TemporaryDirectory() as folder:
    subprocess.run([cli, "new", f"{folder}/fresh.relic", "--name", "Fresh"], check=True, stdout=subprocess.DEVNULL)
    must_fit(dossier, json.loads(pathlib.Path(folder, "fresh.relic/dossier.json").read_text()), "a new dossier")

clock = validator("clock.schema.json")
for path in sorted(source.glob("data/clocks/*.json")):
    shipped = json.loads(path.read_text())
    must_fit(clock, shipped, path)
    shipped["sources"][0]["hz"] = 0
    must_not_fit(clock, shipped, f"{path} with a clock that stands still")

package = validator("package.schema.json")
for path in sorted(source.glob("data/packages/*.json")):
    shipped = json.loads(path.read_text())
    must_fit(package, shipped, path)
    shipped["mount"] = "glue"
    must_not_fit(package, shipped, f"{path} that is glued")

part = validator("part.schema.json")
for path in sorted(source.glob("data/parts/*.json")):
    shipped = json.loads(path.read_text())
    must_fit(part, shipped, path)
    for key in ("id", "name", "source", "pins"):
        broken = copy.deepcopy(shipped)
        del broken[key]
        must_not_fit(part, broken, f"{path} without {key}")
    if "logic" in shipped:
        broken = copy.deepcopy(shipped)
        for delays in broken["logic"]["delays"].values():
            delays["gates"] = [0, 1, 2]
        must_not_fit(part, broken, f"{path} with a gate that takes no time")
    shipped["pins"][0][2] = "sideways"
    must_not_fit(part, shipped, f"{path} with a kind of pin that is none")

job = validator("job.schema.json")
for path in sorted(source.glob("data/jobs/*.json")):
    shipped = json.loads(path.read_text())
    must_fit(job, shipped, path)
    for key in ("id", "name", "about"):
        broken = copy.deepcopy(shipped)
        del broken[key]
        must_not_fit(job, broken, f"{path} without {key}")
    shipped["stages"].append("etching")
    must_not_fit(job, shipped, f"{path} with a stage that is none")

connector = validator("connector.schema.json")
for path in sorted(source.glob("data/connectors/*.json")):
    shipped = json.loads(path.read_text())
    must_fit(connector, shipped, path)
    for key in ("id", "name", "source", "rule", "contact"):
        broken = copy.deepcopy(shipped)
        del broken[key]
        must_not_fit(connector, broken, f"{path} without {key}")
    shipped["maker"] = "x"
    must_not_fit(connector, shipped, f"{path} with a field of no meaning")

family = validator("family.schema.json")
for path in sorted(source.glob("data/families/*.json")):
    shipped = json.loads(path.read_text())
    must_fit(family, shipped, path)
    shipped["limits"]["high_v"] = shipped["limits"]["above_supply_v"] = 1
    must_not_fit(family, shipped, f"{path} with two limits")

supply = validator("supply.schema.json")
for path in sorted(source.glob("data/supplies/*.json")):
    shipped = json.loads(path.read_text())
    must_fit(supply, shipped, path)
    shipped["volts"] = 0
    must_not_fit(supply, shipped, f"{path} without volts")

process = validator("process.schema.json")
for path in sorted(source.glob("data/processes/*.json")):
    shipped = json.loads(path.read_text())
    must_fit(process, shipped, path)
    shipped["where"] = "elsewhere"
    must_not_fit(process, shipped, f"{path} made elsewhere")

analyser = validator("analyser.schema.json")
for path in sorted(source.glob("data/analysers/*.json")):
    shipped = json.loads(path.read_text())
    must_fit(analyser, shipped, path)
    shipped["rates_hz"] = []
    must_not_fit(analyser, shipped, f"{path} without a rate")

layout = validator("layout.schema.json")
for path in sorted(source.glob("data/layouts/*.json")):
    shipped = json.loads(path.read_text())
    must_fit(layout, shipped, path)
    shipped["keys"][0]["types"] = []
    must_not_fit(layout, shipped, f"{path} with a key that types nothing")

cautions = validator("cautions.schema.json")
shipped = json.loads((source / "data/cautions.json").read_text())
must_fit(cautions, shipped, "cautions.json")
shipped["cautions"][0]["when"] = []
must_not_fit(cautions, shipped, "cautions.json without a trigger")

drawer, bench = validator("drawer.schema.json"), validator("bench.schema.json")
shipped = json.loads((source / "demos/person/gray-relic/drawer.json").read_text())
must_fit(drawer, shipped, "the demo's drawer")
shipped["parts"][0]["count"] = -1
must_not_fit(drawer, shipped, "a drawer with less than nothing")
shipped = json.loads((source / "demos/person/gray-relic/bench.json").read_text())
must_fit(bench, shipped, "the demo's bench")
shipped["instruments"][0]["kind"] = "wand"
must_not_fit(bench, shipped, "a bench with a wand")

journal = validator("journal.schema.json")
lines = (source / "tests/fuzz/seeds/plain.journal").read_text().splitlines()
for number, line in enumerate(lines, 1):
    must_fit(journal, json.loads(line), f"plain.journal:{number}")
must_not_fit(journal, {"patch": [{"op": "copy", "from": "", "path": "/x"}], "sum": "0" * 16}, "a copying step")

print("\n".join(map(str, problems)) or "all fit")
sys.exit(bool(problems))
