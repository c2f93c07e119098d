"""Families of the user's own, kept by name."""

from pathlib import Path

import pytest
from sqlalchemy.orm import Session

from lowfold.core.errors import TooLargeError
from lowfold.core.parts.families import Family
from lowfold.store import families as store
from lowfold.store.database import Database
from lowfold.store.families import NoSuchFamily, keep_family, own_families, remove_family

THIN = Family(name="Thin 0603", tolerance=0.001, rated_watts=0.0625, limiting_volts=75.0)


@pytest.fixture
def session(tmp_path: Path) -> Session:
    database = Database(tmp_path / "x.sqlite")
    database.migrate()
    return database.sessions()


def test_a_family_comes_back_as_it_was_kept(session: Session) -> None:
    bare = Family(name="5 W wirewound", rated_watts=5.0)
    keep_family(session, THIN)
    keep_family(session, bare)
    assert own_families(session) == (bare, THIN)


def test_keeping_again_replaces_in_any_case(session: Session) -> None:
    keep_family(session, THIN)
    keep_family(session, Family(name="THIN  0603", rated_watts=0.1))
    assert [(f.name, f.rated_watts) for f in own_families(session)] == [("THIN 0603", 0.1)]


def test_removing_forgets_it_once(session: Session) -> None:
    keep_family(session, THIN)
    remove_family(session, "thin 0603")
    assert own_families(session) == ()
    with pytest.raises(NoSuchFamily):
        remove_family(session, "thin 0603")


def test_there_is_a_bound(session: Session, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(store, "MOST_FAMILIES", 1)
    keep_family(session, THIN)
    keep_family(session, THIN)
    with pytest.raises(TooLargeError, match="at most 1 families are kept"):
        keep_family(session, Family(name="other", rated_watts=1.0))
