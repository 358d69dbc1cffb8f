"""The results that `docs/soak.md` keeps: each stands between two marks of its own, and a new one takes its place."""

from __future__ import annotations

from pathlib import Path

PAGE = Path(__file__).parents[1] / "docs" / "soak.md"


def put(name: str, text: str, page: Path = PAGE) -> None:
    """Puts a result in the place of the one before."""
    begin, end = f"<!-- {name} -->", f"<!-- end of {name} -->"
    before, found, rest = page.read_text().partition(begin)
    _, closed, after = rest.partition(end)
    if not (found and closed):
        raise ValueError(f"{page.name} has no place for {name}")
    page.write_text(f"{before}{begin}\n{text}\n{end}{after}")
