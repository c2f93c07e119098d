"""A dossier as Markdown: readable as it stands, and nothing in it runs."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from typing import Final

from lowfold.views.dossier import Dossier

__all__ = ["write_markdown"]

#: What Markdown or HTML would take for more than text.
SIGNS: Final = re.compile(r"([\\`*_{}\[\]()#+!|<>&~$-])")
SAFE: Final = frozenset("()+-.")


def plain(text: str) -> str:
    """Return text as Markdown that shows it as it is, in one line."""
    line = " ".join("".join(c if c.isprintable() else " " for c in text).split())
    shown = SIGNS.sub(lambda m: m[1] if m[1] in SAFE else f"\\{m[1]}", line)
    shown = shown.replace("\\<", "&lt;").replace("\\>", "&gt;").replace("\\&", "&amp;")
    shown = shown.replace("](", "]\\(")
    # A list, a heading or a rule begins a line
    return re.sub(r"^([-+]|[0-9]+[.)])(?=\s|$)|^([-=]{3,})", r"\\\g<0>", shown)


def write_markdown(of: Dossier) -> str:
    """Write a dossier."""
    parts = (_stated(of), _judged(of), _built(of), _kept(of))
    lines = [line for part in parts for line in part]
    last = "Results are design aids: the data sheet, the local code and a qualified person decide."
    return "\n".join([*lines, last]) + "\n"


def _table(head: Sequence[str], rows: Sequence[Sequence[str]]) -> Iterator[str]:
    if not rows:
        return
    yield "| " + " | ".join(head) + " |"
    yield "|" + "---|" * len(head)
    for row in rows:
        yield "| " + " | ".join(plain(cell) for cell in row) + " |"
    yield ""


def _stated(of: Dossier) -> Iterator[str]:
    yield f"# {plain(of.name)}"
    yield ""
    yield f"{plain(of.kind)}, revision {of.revision}, written {of.written}, digest {of.digest}"
    yield ""
    if of.tags:
        yield f"Tags: {plain(', '.join(of.tags))}"
        yield ""
    yield "## Need"
    yield ""
    yield plain(of.need)
    yield ""
    yield from _table(("what", "stated"), [(c.name, c.text) for c in of.tokens])
    yield "## Choice"
    yield ""
    yield plain(of.choice) or "Nothing is chosen yet."
    yield ""
    if of.why:
        for paragraph in of.why.splitlines():
            if paragraph.strip():
                yield f"> {plain(paragraph)}"
        yield ""


def _judged(of: Dossier) -> Iterator[str]:
    yield "## Gates"
    yield ""
    yield plain(of.wrong or of.verdict)
    yield ""
    yield from _table(
        ("gate", "verdict", "figure", "margin"),
        [(g.name, g.verdict, g.figure, g.margin) for g in of.gates],
    )
    for gate in of.gates:
        for note in gate.notes:
            yield f"- {plain(gate.name)}: {plain(note)}"
    for strip in of.strips:
        for words in strip.words:
            yield f"- {plain(words)}"
    for histogram in of.histograms:
        yield f"- {plain(histogram.words)}"
    yield ""
    yield from _titled("Cautions", [f"- {plain(caution)}" for caution in of.cautions])
    if of.faults:
        yield "## One part failed"
        yield ""
        yield from _table(("part", "then"), [(c.name, c.text) for c in of.faults])


def _built(of: Dossier) -> Iterator[str]:
    if of.parts:
        yield "## Parts"
        yield ""
        bought = [
            (str(p.quantity), p.value, p.code, p.tolerance_words, p.family, p.rating,
             " ".join(p.refs), " ".join(w.bands) or w.code or w.why)
            for p, w in zip(of.parts, of.wears, strict=True)
        ]  # fmt: skip
        head = ("quantity", "value", "code", "tolerance", "size", "rating", "refs", "marked")
        yield from _table(head, bought)
    if of.measured:
        yield "## Expected and measured"
        yield ""
        yield plain(f"{of.standing}; with the {of.meter}")
        yield ""
        rows = [(m.where, m.expected, m.limits, m.read, m.verdict) for m in of.measured]
        yield from _table(("where", "expected", "limits", "read", "verdict"), rows)


def _kept(of: Dossier) -> Iterator[str]:
    if of.record:
        yield "## Record"
        yield ""
        entries = [(str(n.number), n.at, n.kind, n.text, n.beside) for n in of.record]
        yield from _table(("no.", "when", "kind", "what", "beside"), entries)
    if of.revisions:
        yield "## Revisions"
        yield ""
        yield from _table(("revision", "what changed"), [(c.name, c.text) for c in of.revisions])


def _titled(title: str, lines: Sequence[str]) -> Iterator[str]:
    if lines:
        yield f"## {title}"
        yield ""
        yield from lines
        yield ""
