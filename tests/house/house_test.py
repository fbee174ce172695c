#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""The house's own checks find what is planted: a small tree with one fault of each kind, and one without."""
import importlib.machinery
import importlib.util
import pathlib
import tempfile
import unittest

HERE = pathlib.Path(__file__).resolve().parent


def load(name):
    loader = importlib.machinery.SourceFileLoader(name, str(HERE / name))
    module = importlib.util.module_from_spec(importlib.util.spec_from_loader(name, loader))
    loader.exec_module(module)
    return module


USES = load("uses")
SOUND = {
    "src/core/base/a.hpp": "#pragma once\n",
    "src/core/json/json.hpp": "#include <nlohmann/json.hpp>\n",
    "src/core/high/b.cpp": '#include "core/base/a.hpp"\n#include <vector>\n',
    "src/app/stages/port/p.cpp": '#include <QWidget>\n#include "core/base/a.hpp"\n',
    "src/app/stages/trace/t.hpp": "\n",
}
DECLARED = """must core/base
must core/json
must core/high core/base
may app/stages/port core app/stages
may app/stages/trace core
"""


class Uses(unittest.TestCase):
    def faults(self, files=None, declared=DECLARED):
        with tempfile.TemporaryDirectory() as folder:
            for name, text in {**SOUND, **(files or {})}.items():
                path = pathlib.Path(folder) / name
                path.parent.mkdir(parents=True, exist_ok=True)
                path.write_text(text)
            return list(USES.faults(pathlib.Path(folder), USES.declared(declared)))

    def test_a_sound_tree_has_none(self):
        self.assertEqual(self.faults(), [])

    def one(self, expected, files=None, declared=DECLARED):
        found = self.faults(files, declared)
        self.assertEqual(len(found), 1, found)
        self.assertIn(expected, found[0])

    def test_a_use_that_is_not_declared(self):
        self.one("c.cpp:2: core/base uses core/high", {"src/core/base/c.cpp": '\n#include "core/high/b.cpp"\n'})

    def test_a_declared_use_that_nobody_needs(self):
        self.one("core/high declares core/json", declared=DECLARED.replace("high core/base", "high core/base core/json"))

    def test_a_circle(self):
        files = {"src/core/base/c.cpp": '#include "core/high/b.cpp"\n'}
        self.one("a circle: core/", files, DECLARED.replace("must core/base\n", "must core/base core/high\n"))

    def test_a_folder_nobody_declared(self):
        self.one("core/new declares no uses", {"src/core/new/n.cpp": "\n"})

    def test_qt_in_the_core(self):
        self.one("q.cpp:1: Qt in the core", {"src/core/high/q.cpp": "#include <QString>\n"})

    def test_the_json_library_elsewhere(self):
        self.one("j.cpp:1: the JSON library", {"src/core/high/j.cpp": "#include <nlohmann/json.hpp>\n"})

    def test_a_stage_in_a_stage(self):
        self.one("a stage includes another stage", {"src/app/stages/port/x.cpp": '#include "app/stages/trace/t.hpp"\n'})

    def test_a_file_that_is_not_there(self):
        self.one("core/base/gone.hpp is no file", {"src/core/high/g.cpp": '#include "core/base/gone.hpp"\n'})


if __name__ == "__main__":
    unittest.main()
