"""What the browser fetches before the first view stands: the built page, packed as it is served."""

import gzip
import re
from pathlib import Path

import lowfold

BUILT = Path(lowfold.__file__).parent / "web"
MOST_BYTES = 70_000  #: without the fonts, which the browser draws without at first


def fetched() -> set[Path]:
    """Return the page with its scripts and styles, and what those import before they run."""
    page = BUILT / "index.html"
    found = {page}
    asked = [
        BUILT / name for name in re.findall(r'(?:src|href)="/(assets/[^"]+)"', page.read_text())
    ]
    while asked:
        one = asked.pop()
        if one in found or one.suffix not in {".js", ".css"}:
            continue
        found.add(one)
        if one.suffix == ".js":
            text = one.read_text()
            names = re.findall(r'(?:^|[;}])(?:import|export)\b[^;"]*?"\./([^"]+)"', text)
            asked += [one.parent / name for name in names]
    return found


def test_the_first_view_is_light() -> None:
    found = fetched()
    assert {one.suffix for one in found} == {".html", ".js", ".css"}
    assert sum(len(gzip.compress(one.read_bytes())) for one in found) <= MOST_BYTES
