"""The drawer in the database: kept, merged, replaced whole or not at all."""

from collections.abc import Iterator
from pathlib import Path

import pytest
from sqlalchemy.orm import Session

from lowfold.core.parts.stock import DrawerLine
from lowfold.store.database import Database
from lowfold.store.drawer import (
    NoSuchLine,
    TwiceInDrawer,
    add_line,
    change_line,
    drawer_lines,
    drawer_rows,
    merge_lines,
    remove_line,
    replace_lines,
)

FILM = DrawerLine(4700.0, 3, 0.01, "film")
WIRE = DrawerLine(0.47, None, 0.05, "wirewound")


@pytest.fixture
def session(tmp_path: Path) -> Iterator[Session]:
    database = Database(tmp_path / "lowfold.db")
    database.migrate()
    with database.sessions() as found:
        yield found
    database.close()


def test_lines_come_back_as_they_went_in_by_rising_value(session: Session) -> None:
    add_line(session, FILM)
    add_line(session, WIRE)
    assert drawer_lines(session) == (WIRE, FILM)


def test_one_value_may_stand_in_several_tolerances_and_families(session: Session) -> None:
    for line in (FILM, DrawerLine(4700.0, 1, 0.001, "film"), DrawerLine(4700.0, 9, 0.01, "")):
        add_line(session, line)
    with pytest.raises(TwiceInDrawer):
        add_line(session, DrawerLine(4700.0, 5, 0.01, "film"))
    assert len(drawer_rows(session)) == 3


def test_a_line_is_changed_and_taken_out(session: Session) -> None:
    row = add_line(session, FILM)
    other = add_line(session, WIRE)
    change_line(session, row.id, DrawerLine(4700.0, 2, 0.02, "film"))
    assert drawer_lines(session)[1] == DrawerLine(4700.0, 2, 0.02, "film")
    with pytest.raises(TwiceInDrawer):
        change_line(session, row.id, WIRE)
    assert len(drawer_lines(session)) == 2
    remove_line(session, other.id)
    assert len(drawer_lines(session)) == 1
    for missing in (lambda: remove_line(session, other.id), lambda: change_line(session, 99, FILM)):
        with pytest.raises(NoSuchLine):
            missing()


def test_replacing_is_whole_or_not_at_all(session: Session) -> None:
    replace_lines(session, [FILM])
    with pytest.raises(TwiceInDrawer):
        replace_lines(session, [WIRE, WIRE])
    assert drawer_lines(session) == (FILM,)
    replace_lines(session, [WIRE])
    assert drawer_lines(session) == (WIRE,)


def test_merging_sets_counts_of_what_is_there_and_adds_the_rest(session: Session) -> None:
    replace_lines(session, [FILM])
    merge_lines(session, [DrawerLine(4700.0, 8, 0.01, "film"), WIRE])
    assert drawer_lines(session) == (WIRE, DrawerLine(4700.0, 8, 0.01, "film"))
