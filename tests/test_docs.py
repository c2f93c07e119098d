"""What the documents promise is there."""

import json
import re
from pathlib import Path

import pytest

from lowfold.core.board.sharing import MOST_OPTIONS
from lowfold.core.search import assemblies, combine, contexts, ladder_search, resistance_search

ROOT = Path(__file__).parents[1]
DOCS = [ROOT / "README.md", ROOT / "CONTRIBUTING.md", *sorted((ROOT / "docs").glob("*.md"))]


@pytest.mark.parametrize("path", DOCS, ids=lambda p: p.name)
def test_links_lead_somewhere(path: Path) -> None:
    for target in re.findall(r"\]\(([^)#]+)\)", path.read_text()):
        if not target.startswith("http"):
            assert (path.parent / target).exists(), target


def test_every_picture_is_shown_once_in_the_readme() -> None:
    pictures = sorted(p.name for p in (ROOT / "docs" / "screenshots").glob("*.png"))
    shown = re.findall(r"docs/screenshots/([\w-]+\.png)", (ROOT / "README.md").read_text())
    assert sorted(shown) == pictures
    assert len(pictures) < 20


def test_every_target_of_the_readme_is_in_the_makefile() -> None:
    targets = set(re.findall(r"^([a-z]+):", (ROOT / "Makefile").read_text(), re.MULTILINE))
    wanted = {
        w for d in DOCS for w in re.findall(r"(?:^|`)make ([a-z]+)", d.read_text(), re.MULTILINE)
    }
    assert {"demo", "test", "serve"} <= wanted <= targets


@pytest.mark.parametrize("path", DOCS, ids=lambda p: p.name)
def test_modules_named_in_the_documents_exist(path: Path) -> None:
    for name in re.findall(r"`core/([\w/]+\.py)`", path.read_text()):
        assert (ROOT / "src" / "lowfold" / "core" / name).exists(), name
    for name in re.findall(r"`tests/([\w/]+\.py)`", path.read_text()):
        assert (ROOT / "tests" / name).exists(), name


def test_bounds_are_documented_as_they_are() -> None:
    search = (ROOT / "docs" / "search.md").read_text()
    api = (ROOT / "docs" / "api.md").read_text()
    assert f"{resistance_search.MOST_VALUES[4]:,} distinct values" in search
    assert f"{resistance_search.FEW_VALUES} for five and six" in search
    assert f"{combine.CACHED_BYTES // 10**6} MB" in search
    assert f"within {assemblies.RINGS[1]:.0%}".replace("%", " %") in search
    assert f"nearest {MOST_OPTIONS}" in search
    assert f"({ladder_search.MOST_LOOKED_AT[1] // 10**6} million for up to two taps" in search
    assert (
        f"{resistance_search.MOST_SERIES_PARTS} parts per combination ({contexts.MOST_PARTS} from"
        in api
    )
    assert f"{resistance_search.MOST_LISTED} candidates" in api


def test_no_registry_is_named_in_what_is_installed() -> None:
    lock = json.loads((ROOT / "web" / "package-lock.json").read_text())
    assert [name for name, package in lock["packages"].items() if "resolved" in package] == []
    for name in ("requirements.lock", "requirements-dev.lock"):
        pinned = (ROOT / name).read_text()
        assert "://" not in pinned
        lines = [x for x in pinned.splitlines() if x and not x.lstrip().startswith("#")]
        exact = r"[A-Za-z0-9._-]+==\S+ \\|    --hash=sha256:[0-9a-f]{64}( \\)?"
        assert all(re.fullmatch(exact, line) for line in lines)
