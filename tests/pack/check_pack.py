#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""Opens a release pack with what every machine has, and holds it against what somebody who has never seen the program
may expect: it unpacks below its own folder, its sums are right (by sha256sum too, where that is at hand), it says what
may be done with it, every document opens, and nothing in it tells who made it."""
import hashlib, html.parser, io, json, re, subprocess, sys, tempfile, zipfile
from pathlib import Path, PurePosixPath

faults = []


def fault(text):
    faults.append(text)


def texts_of(name, data):
    """The text in a file: itself, or what a zip or a PDF's plain parts hold."""
    if data[:4] == b"PK\x03\x04":
        with zipfile.ZipFile(io.BytesIO(data)) as inner:
            for inside in inner.namelist():
                yield from texts_of(name + "/" + inside, inner.read(inside))
    else:
        yield name, data.decode("utf-8", "replace")


def main():
    path, words = Path(sys.argv[1]), sys.argv[2:]
    with zipfile.ZipFile(path) as pack:
        if pack.testzip():
            fault("damaged: " + pack.testzip())
        names = pack.namelist()
        files = {name: pack.read(name) for name in names}
    if len(names) != len(set(names)):
        fault("a name twice")
    for name in names:
        if name.startswith("/") or ".." in PurePosixPath(name).parts or "\\" in name or ":" in name:
            fault("leads out: " + name)
    for name in ("README.txt", "LICENCES.txt", "SHA256SUMS", "report.html", "report.pdf"):
        if name not in files:
            fault("missing: " + name)
    summed = {}
    for line in files.get("SHA256SUMS", b"").decode().splitlines():
        match = re.fullmatch(r"([0-9a-f]{64})  (.+)", line)
        if not match:
            fault("no sum: " + line)
            continue
        summed[match[2]] = match[1]
    if set(summed) != set(files) - {"SHA256SUMS"}:
        fault("sums of other files: " + str(set(summed) ^ (set(files) - {"SHA256SUMS"})))
    for name, sum_ in summed.items():
        if hashlib.sha256(files.get(name, b"")).hexdigest() != sum_:
            fault("wrong sum: " + name)
    with tempfile.TemporaryDirectory() as folder:
        with zipfile.ZipFile(path) as pack:
            pack.extractall(folder)
        ran = subprocess.run(["sha256sum", "--check", "--quiet", "SHA256SUMS"], cwd=folder, capture_output=True, text=True)
        if ran.returncode != 0:
            fault("sha256sum says: " + ran.stderr + ran.stdout)
    readme = files.get("README.txt", b"").decode()
    for name in summed:
        if name != "README.txt" and name not in readme:
            fault("the readme does not name " + name)
    if not re.search(r"(GPL|CC-BY|licence)", files.get("LICENCES.txt", b"").decode()):
        fault("no licence is named")
    for name, data in files.items():
        if name.endswith(".pdf") and not (data.startswith(b"%PDF-") and b"%%EOF" in data[-1024:]):
            fault("no PDF: " + name)
        if name.endswith(".json"):
            json.loads(data)
        if name.endswith(".html"):
            html.parser.HTMLParser().feed(data.decode())
            for outside in re.findall(rb'(?:src|href)="([^#"][^"]*)"', data):
                if not outside.startswith(b"data:"):
                    fault(f"{name} fetches {outside.decode()}")
        for where, text in texts_of(name, data):
            for what in (r"[A-Za-z0-9._%+-]+@[A-Za-z0-9-]+\.[A-Za-z]{2,}", r"/home/\w+", r"C:\\Users\\\w+", r"/root/\w+"):
                found = re.search(what, text)
                if found and not name.endswith(".pdf") and not name.endswith(".png"):
                    fault(f"private in {where}: {found[0]}")
            for word in words:
                if re.search(r"(?<![A-Za-z0-9])" + re.escape(word) + r"(?![A-Za-z0-9])", text, re.IGNORECASE):
                    fault(f"private in {where}: {word}")
    dossier = json.loads(files["dossier.json"]) if "dossier.json" in files else {}
    for secret in ("orders",):
        if dossier.get("supply", {}).get(secret):
            fault("orders are published")
    if "money" in dossier.get("log", {}) or "places" in dossier.get("log", {}):
        fault("money or places are published")
    for text in faults:
        print(text)
    return 1 if faults else 0


sys.exit(main())
