"""Whose work Pivrel uses, and under which licence: `python -m tools.third_party` writes `docs/third-party.md`.

What is told is read from the metadata of the installed packages, Python's and the page's. Of shared libraries inside
Python's packages no metadata tells, so that these stand in a table here. A test holds that all of it may be used.
"""

from __future__ import annotations

import json
import re
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from fnmatch import fnmatch
from importlib.metadata import Distribution, distribution

from packaging.requirements import Requirement

from tools.parts import FRONTEND, ROOT
from tools.pins import DEV, USE, pinned, plain

PAGE = ROOT / "docs" / "third-party.md"

ALLOWED = frozenset({
    "MIT", "MIT-0", "BSD", "BSD-2-Clause", "BSD-3-Clause", "ISC", "Apache-2.0", "PSF", "PSF-2.0", "Zlib", "BSL-1.0",
    "HPND", "MIT-CMU", "0BSD", "CC0-1.0",
})  # fmt: skip
"""Of what runs or ships, as SPDX names them; BSD and PSF where a package does not say which. MIT-CMU is Pillow's HPND."""

ALLOWED_IN_TESTS = ALLOWED | {"MPL-2.0"}

BY_NAME = {
    "ifcopenshell": (
        "LGPL-3.0-or-later",
        "optional, `pivrel[ifc]`: an unmodified library, installed by itself",
    ),
    "waitress": ("ZPL-2.1", "permissive: as BSD, and no use of the Zope name"),
    "@fontsource/barlow": ("OFL-1.1", "a typeface, not a program: free to ship with anything"),
    "@fontsource/barlow-condensed": ("OFL-1.1", "a typeface, not a program: free to ship with anything"),
}
"""What is allowed by its name alone, under which licence, and why."""

SPDX = {
    "mit license": "MIT", "the mit license (mit)": "MIT", "apache 2.0": "Apache-2.0", "bsd license": "BSD",
    "apache software license": "Apache-2.0", "bsd 3-clause license": "BSD-3-Clause", "zpl 2.1": "ZPL-2.1",
    "isc license (iscl)": "ISC", "python software foundation license": "PSF",
    "mozilla public license 2.0 (mpl 2.0)": "MPL-2.0",
}  # fmt: skip
"""How packages that do not write SPDX say it."""

GCC = "GPL-3.0-or-later WITH GCC-exception-3.1"
OCCT = "LGPL-2.1-only WITH OCCT-exception-1.0"
BSD3, LGPL2, LGPL3 = "BSD-3-Clause", "LGPL-2.1-or-later", "LGPL-3.0-or-later"
FORTRAN = {"libscipy_openblas*": BSD3, "libgfortran*": GCC, "libquadmath*": LGPL2}

LIBRARIES: Mapping[str, Mapping[str, str]] = {
    "numpy": FORTRAN,
    "scipy": FORTRAN,
    "shapely": {"libgeos*": LGPL2},
    "llvmlite": {"libllvmlite*": "Apache-2.0 WITH LLVM-exception"},
    "pillow": {
        "libXau*": "MIT", "libavif*": "BSD-2-Clause", "libbrotli*": "MIT", "libfreetype*": "FTL", "libharfbuzz*": "MIT",
        "libjpeg*": "IJG AND BSD-3-Clause", "liblcms2*": "MIT", "liblzma*": "0BSD", "libopenjp2*": "BSD-2-Clause",
        "libpng16*": "libpng-2.0", "libsharpyuv*": BSD3, "libtiff*": "libtiff", "libwebp*": BSD3, "libxcb*": "MIT",
        "libzstd*": BSD3,
    },
    "cadquery-ocp-novtk": {
        "libTK*": OCCT, "libHalf*": BSD3, "libI*": BSD3, "libbz2*": "bzip2-1.0.6", "libfmt*": "MIT", "libfontconfig*": "MIT",
        "libfreeimage*": "GPL-2.0-only OR GPL-3.0-only OR FreeImage", "libfreetype*": "FTL", "libgomp*": GCC,
        "libjasper*": "JasPer-2.0", "libjpeg-*": "IJG AND BSD-3-Clause", "libjpegxr*": "BSD-2-Clause",
        "libjxrglue*": "BSD-2-Clause", "liblcms2*": "MIT", "liblzma*": "0BSD", "libopenjp2*": "BSD-2-Clause",
        "libpng16*": "libpng-2.0", "libraw*": "LGPL-2.1-only OR CDDL-1.0", "libtiff*": "libtiff", "libuuid*": BSD3,
        "libwebp*": BSD3,
    },
    "ifcopenshell": {
        "libifcopenshell*": LGPL3, "libTK*": OCCT, "libGeneratedSaxParser*": "MIT", "libMathMLSolver*": "MIT",
        "libOpenCOLLADA*": "MIT", "libUTF*": "MIT", "libbuffer*": "MIT", "libftoa*": "MIT", "libboost*": "BSL-1.0",
        "libgmp*": LGPL3, "libmpfr*": LGPL3, "libmanifold*": "Apache-2.0", "libpcre*": BSD3,
        "libwgpu_native*": "MIT OR Apache-2.0", "libxml2*": "MIT",
    },
}  # fmt: skip
"""The licence of each shared library inside a package, by the pattern of its name. Of Pillow, numpy, scipy and shapely
as their own licence files say; of the two optional packages, which say nothing, from memory."""

INSIDE = ALLOWED | {
    # Permissive, with a credit.
    "FTL", "IJG", "libpng-2.0", "libtiff", "bzip2-1.0.6", "JasPer-2.0",
    # Free for what is linked with it, of any licence.
    GCC,
    # Changed by nobody here, and replaced by whoever likes to: GEOS, the CAD kernel, numbers of Fortran and of IFC.
    LGPL2, LGPL3, OCCT,
    # One of the licences that are offered: FreeImage's own is as the MPL.
    "GPL-2.0-only OR GPL-3.0-only OR FreeImage", "LGPL-2.1-only OR CDDL-1.0",
}  # fmt: skip
"""What shared libraries inside packages may be under."""

NOTES = """Notes:

- `ifcopenshell` also brings a geometry kernel that is built with CGAL, parts of which are under the GPL-3
  (`ifcopenshell_geometry_kernel_cgal*.so`). Pivrel reads IFC by the other kernel and never loads these files. Who passes the
  library on should leave them out.
- `libgfortran` and `libquadmath` are parts of GCC that numpy and scipy bring; everybody who ships numpy ships them.
"""


@dataclass(frozen=True)
class Package:
    """Somebody else's work. licence: as SPDX writes it. text: where its words are."""

    name: str
    version: str
    licence: str
    text: str


def of_python(names: Iterable[str]) -> list[Package]:
    """Installed packages by their names."""
    found = (distribution(name) for name in names)
    return [Package(one.metadata["Name"], one.version, licence_of(one), text_of(one)) for one in found]


def licence_of(package: Distribution) -> str:
    """What a package's metadata says of its licence, as SPDX writes it; "" where it says nothing."""
    told = package.metadata
    if expression := told["License-Expression"]:
        return expression
    # Some put the whole text there; its first line may say what it is.
    first, *more = (told["License"] or "").strip().splitlines() or [""]
    if first.lower().startswith("bsd license"):
        return "BSD"
    if first.lower() in SPDX or (first and not more and len(first) <= 40):
        return SPDX.get(first.lower(), first)
    classified = [
        one.split(" :: ")[-1] for one in told.get_all("Classifier") or () if one.startswith("License :: OSI")
    ]
    return " AND ".join(SPDX.get(one.lower(), one) for one in classified)


def text_of(package: Distribution) -> str:
    """Where the words of a package's licence are."""
    files = sorted(
        str(file) for file in package.files or () if re.search("licen[cs]e|copying", file.name, re.I)
    )
    return next(
        (file for file in files if ".dist-info" in file), files[0] if files else "in its metadata alone"
    )


def of_npm() -> list[Package]:
    """The packages that the page is built from, those for building and testing it aside."""
    locked = json.loads((FRONTEND / "package-lock.json").read_text())["packages"]
    out = []
    for path, entry in locked.items():
        if not path or entry.get("dev") or entry.get("devOptional"):
            continue
        folder = FRONTEND / path
        if not folder.is_dir():
            # Left out on this machine.
            continue
        told = json.loads((folder / "package.json").read_text())
        texts = sorted(
            file.name for file in folder.iterdir() if re.match("licen[cs]e|copying", file.name, re.I)
        )
        text = f"{path}/{texts[0]}" if texts else "in its package.json alone"
        out.append(
            Package(path.split("node_modules/")[-1], told["version"], str(told.get("license", "")), text)
        )
    return sorted(out, key=lambda one: one.name)


def is_among(expression: str, allowed: frozenset[str] | set[str]) -> bool:
    """Whether one may choose among the licences of an SPDX expression so that all of them are allowed."""
    if expression in allowed:
        return True
    words = re.findall(r"[()]|[^\s()]+(?: WITH \S+)?", expression)
    sense = {"(": "(", ")": ")", "AND": "and", "OR": "or"}
    asked = (
        sense.get(word, str(word in allowed or word.split(" WITH ")[0] in allowed - {GCC})) for word in words
    )
    try:
        return bool(eval(" ".join(asked), {"__builtins__": {}}))
    except SyntaxError:
        return False


def faults(packages: Iterable[Package], allowed: frozenset[str]) -> Iterator[str]:
    """What may not be used, in sentences."""
    for one in packages:
        by_name = BY_NAME.get(plain(one.name) if one.name[0] != "@" else one.name)
        if not is_among(one.licence, allowed) and (by_name is None or by_name[0] != one.licence):
            yield f"{one.name} {one.version} is under {one.licence or 'no licence that it states'}"


def shared(name: str) -> Iterator[tuple[str, str | None]]:
    """The shared libraries inside an installed package, each with the licence that the table gives it."""
    rows = LIBRARIES.get(name, {})
    for file in sorted({file.name for file in distribution(name).files or ()}):
        if re.match(r"lib.+\.(so|dylib|dll)", file) and "cpython" not in file:
            yield file, next((licence for pattern, licence in rows.items() if fnmatch(file, pattern)), None)


def shared_faults(names: Iterable[str]) -> Iterator[str]:
    """The shared libraries inside packages that the table does not know, or that may not be used."""
    for name in names:
        for file, licence in shared(name):
            if licence is None:
                yield f"{name} brings {file}, whose licence the table does not tell"
            elif not is_among(licence, INSIDE):
                yield f"{name} brings {file}, which is under {licence}"


def table(packages: Iterable[Package]) -> list[str]:
    """Packages as rows of a page."""
    rows = (f"| {one.name} | {one.version} | {one.licence} | {one.text} |" for one in packages)
    return ["| package | version | licence | its text |", "|---|---|---|---|", *rows, ""]


def page() -> str:
    """All of it as `docs/third-party.md` has it."""
    optional = sorted(pinned(USE).keys() - pinned_without_extras().keys())
    always = sorted(pinned_without_extras())
    libraries = [
        f"| {name} | {pattern} | {licence} |"
        for name, rows in LIBRARIES.items()
        for pattern, licence in rows.items()
    ]
    named = [f"- **{name}**, {licence}: {why}." for name, (licence, why) in BY_NAME.items()]
    return "\n".join([
        "# Whose work Pivrel uses",
        "",
        "Written by `make third-party` from the metadata of what is installed; a test fails where it is not as it is now,",
        "or where something is under a licence that is not allowed (`tools/third_party.py`). Paths of Python's packages are",
        "those below `site-packages`, paths of the page's those below `frontend`; the page ships their texts as",
        "`licences.md`, and the typeface's as `barlow-licence.txt`.",
        "",
        "Allowed by name:",
        "",
        *named,
        "",
        "## Python: what runs",
        "",
        *table(of_python(always)),
        "## Python: optional, by `pivrel[step]` and `pivrel[ifc]`",
        "",
        *table(of_python(optional)),
        "## The page",
        "",
        *table(of_npm()),
        "## Shared libraries inside Python's packages",
        "",
        "| package | library | licence |",
        "|---|---|---|",
        *libraries,
        "",
        NOTES,
        "## For tests and checks alone",
        "",
        *table(of_python(sorted(pinned(DEV)))),
    ])  # fmt: skip


def requirements(lines: Iterable[str]) -> list[Requirement]:
    """Lines of `pyproject.toml` that state what is needed."""
    return [Requirement(line) for line in lines]


def pinned_without_extras() -> dict[str, str]:
    """The pins that use without extras needs."""
    needed = needs_of("pivrel")
    return {name: line for name, line in pinned(USE).items() if name in needed}


def needs_of(name: str) -> set[str]:
    """The plain names of all that an installed package needs, with what that needs in turn, its extras aside."""
    found: set[str] = set()
    waiting = [name]
    while waiting:
        for stated in distribution(waiting.pop()).requires or ():
            need = Requirement(stated)
            if (need.marker is None or need.marker.evaluate({"extra": ""})) and plain(need.name) not in found:
                found.add(plain(need.name))
                waiting.append(need.name)
    return found


if __name__ == "__main__":
    PAGE.write_text(page())
