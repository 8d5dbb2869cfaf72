#!/usr/bin/env python3
"""Fetch the styles, scripts and fonts the app ships with, from npm, into static/vendor/.

    python tools/vendor.py

Versions and licenses are written to static/vendor/VENDORED.md. Source-map comments are taken out,
because the manifest storage follows them. axe-core serves the tests only and goes to tests/browser/.
"""

import io
import json
import re
import subprocess
import tarfile
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
VENDOR = ROOT / "static" / "vendor"
#: package, version, {file in the package: file here}
PACKAGES = [
    ("bootstrap", None, {"dist/css/bootstrap.min.css": "bootstrap.min.css"}),
    ("htmx.org", "2.0.11", {"dist/htmx.min.js": "htmx.min.js"}),
    ("idiomorph", "0.8.0", {"dist/idiomorph-ext.min.js": "idiomorph-ext.min.js"}),
    (
        "@fontsource-variable/bricolage-grotesque",
        None,
        {"files/bricolage-grotesque-latin-wght-normal.woff2": "bricolage-grotesque.woff2"},
    ),
    (
        "@fontsource-variable/atkinson-hyperlegible-next",
        None,
        {
            "files/atkinson-hyperlegible-next-latin-wght-normal.woff2": "atkinson-hyperlegible-next.woff2",
            "files/atkinson-hyperlegible-next-latin-ext-wght-normal.woff2": "atkinson-hyperlegible-next-ext.woff2",
        },
    ),
    ("axe-core", None, {"axe.min.js": "../../tests/browser/axe.min.js"}),
]


def main():
    VENDOR.mkdir(parents=True, exist_ok=True)
    rows = [
        "# Vendored files",
        "",
        "Made by tools/vendor.py.",
        "",
        "| package | version | license | files |",
        "|---|---|---|---|",
    ]
    for name, version, files in PACKAGES:
        with tempfile.TemporaryDirectory() as folder:
            wanted = f"{name}@{version}" if version else name
            packed = subprocess.run(
                ["npm", "pack", "--silent", wanted], cwd=folder, check=True, capture_output=True, text=True
            )
            archive = (Path(folder) / packed.stdout.strip().splitlines()[-1]).read_bytes()
        with tarfile.open(fileobj=io.BytesIO(archive)) as tar:
            about = json.load(tar.extractfile("package/package.json"))
            for source, target in files.items():
                data = tar.extractfile(f"package/{source}").read()
                if source.endswith((".js", ".css")):
                    data = re.sub(rb"\n?(//|/\*)[#@] sourceMappingURL=[^\n*]*(\*/)?", b"", data)
                path = VENDOR / target
                path.parent.mkdir(parents=True, exist_ok=True)
                path.write_bytes(data)
        names = ", ".join(Path(target).name for target in files.values())
        rows.append(f"| {name} | {about['version']} | {about['license']} | {names} |")
    (VENDOR / "VENDORED.md").write_text("\n".join(rows) + "\n")


if __name__ == "__main__":
    main()
