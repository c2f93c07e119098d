"""The file that hands designs over: whole, with their record and photographs, as JSON."""

from __future__ import annotations

import base64
import binascii
import hashlib
import json
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from typing import Annotated, Any, Final, Literal, Self

from pydantic import Field, ValidationError, model_validator

import lowfold
from lowfold.api.designs import MOST_NAME, DesignFields, Tag
from lowfold.api.families import FamilyAsk
from lowfold.api.fields import Ask
from lowfold.api.meters import MeterWords
from lowfold.api.problems import field_error
from lowfold.api.record import EntryAsk
from lowfold.api.texts import unfit
from lowfold.core.bench.data_sheet import meter_in_words, read_meter
from lowfold.core.bench.models import MeterModel
from lowfold.core.errors import LowfoldError
from lowfold.core.parts.families import Family
from lowfold.core.record.picture import Picture
from lowfold.core.tokens.names import unknown_tokens

__all__ = [
    "FORMAT",
    "HandOver",
    "HandedDesign",
    "TakenIn",
    "digest_of",
    "read_handover",
    "write_handover",
]

FORMAT: Final = "lowfold/1"
MOST_DESIGNS: Final = 200
MOST_ENTRIES: Final = 20_000
MOST_PICTURES: Final = 200
#: Of a design, what its digest is not of: when it was kept here, and the digest itself.
APART: Final = frozenset({"created", "updated", "digest"})

When = Annotated[
    str,
    Field(
        max_length=40, pattern=r"^[0-9]{4}-[0-9]{2}-[0-9]{2}T[0-9:.]{8,15}(\+00:00|Z)$",
        description="ISO 8601, UTC",
    ),
]  # fmt: skip
Number = Annotated[int, Field(ge=1, le=2**53, strict=True)]


class HandedEntry(EntryAsk):
    """An entry of the record; `corrects`, `of` and `evidence` count from 1 in this file.

    How a reading was judged when it was taken is handed over with it.
    """

    at: When
    overload: bool = False
    lowest: float | None = None
    highest: float | None = None
    verdict: Literal["as expected", "off", "far out"] | None = None

    def facts(self) -> dict[str, Any]:
        found = super().facts()
        found.pop("at")
        if not self.overload:
            found.pop("overload")
        return found


class HandedPicture(Ask):
    """A photograph."""

    at: When
    media: Literal["image/jpeg", "image/png", "image/webp"]
    width: Number
    height: Number
    sha256: Annotated[str, Field(pattern="^[0-9a-f]{64}$")]
    data: str = Field(max_length=90_000_000, description="The picture, in base 64")


class HandedRevision(DesignFields):
    """A design as it was."""

    revision: Number
    at: When


class HandedDesign(DesignFields):
    """A design, whole."""

    name: str = Field(max_length=MOST_NAME)
    tags: list[Tag] = Field([], max_length=20)
    revision: Number
    created: When
    updated: When
    digest: str = Field("", max_length=40)
    revisions: list[HandedRevision] = Field([], max_length=20_000)
    record: list[HandedEntry] = Field([], max_length=MOST_ENTRIES)
    evidence: list[HandedPicture] = Field([], max_length=MOST_PICTURES)

    @model_validator(mode="after")
    def _hangs_together(self) -> Self:
        numbers = [r.revision for r in self.revisions]
        if numbers != sorted(set(numbers)) or (numbers and numbers[-1] != self.revision):
            msg = "revisions rise one after the other, up to the design's own"
            raise ValueError(msg)
        for place, entry in enumerate(self.record):
            for name, named in (("corrects", entry.corrects), ("of", entry.of)):
                if named is not None and named > place:
                    msg = f"entry {place + 1} {name} {named}, which does not come before it"
                    raise ValueError(msg)
            if entry.evidence is not None and entry.evidence > len(self.evidence):
                msg = f"entry {place + 1} names photograph {entry.evidence}, which is not here"
                raise ValueError(msg)
        return self


class HandedFamily(FamilyAsk):
    """A part family of the user's own."""

    name: str = Field(max_length=80)


class HandedMeter(MeterWords):
    """A meter of the user's own."""

    name: str = Field(max_length=60)


class HandOver(Ask):
    """The whole file."""

    format: Literal["lowfold/1"]
    lowfold: str = Field("", max_length=40, description="The version that wrote it")
    written: When
    designs: list[HandedDesign] = Field(min_length=1, max_length=MOST_DESIGNS)
    families: list[HandedFamily] = Field([], max_length=1000)
    meters: list[HandedMeter] = Field([], max_length=100)

    @model_validator(mode="after")
    def _bounded(self) -> Self:
        count = sum(len(design.record) for design in self.designs)
        if count > MOST_ENTRIES:
            msg = f"{count} entries in all; one file brings up to {MOST_ENTRIES}: take it in parts"
            raise ValueError(msg)
        return self


@dataclass(frozen=True, slots=True)
class TakenDesign:
    """A design as it is stored, its links by number."""

    fields: dict[str, Any]
    revision: int
    revisions: list[tuple[int, str, dict[str, Any]]]
    record: list[tuple[str, str, str, dict[str, Any]]]  #: when, kind, text, facts
    pictures: list[tuple[str, Picture]]
    as_written: bool  #: its digest is that of its content
    left_out: list[str]  #: tokens that are none here, by the design's name


@dataclass(frozen=True, slots=True)
class TakenIn:
    """What a file holds, checked."""

    designs: list[TakenDesign]
    families: list[Family]
    meters: list[MeterModel]


def digest_of(design: Mapping[str, Any]) -> str:
    """Return a short digest of a design, so that paper and file can be matched.

    It is of everything in it but when it was kept here; of a photograph, of its own digest.
    """
    plain = {name: value for name, value in design.items() if name not in APART}
    plain["evidence"] = [
        {name: value for name, value in picture.items() if name != "data"}
        for picture in plain.get("evidence", [])
    ]
    text = json.dumps(plain, sort_keys=True, ensure_ascii=True, separators=(",", ":"))
    found = hashlib.sha256(text.encode()).hexdigest()[:12]
    return " ".join(found[k : k + 4] for k in (0, 4, 8))


def write_handover(
    designs: Sequence[dict[str, Any]],
    families: Sequence[Family],
    meters: Sequence[MeterModel],
    written: str,
) -> bytes:
    """Write designs into a file.

    Parameters
    ----------
    designs : sequence of dict
        As `HandedDesign`, their digests left out.
    families, meters
        Of the user's own, those that the designs name.
    written : str
        When.
    """
    names = ("name", "tolerance", "tcr_ppm", "drift", "full_power_c", "zero_power_c")
    file = {
        "format": FORMAT,
        "lowfold": lowfold.__version__,
        "written": written,
        "designs": [{**design, "digest": digest_of(design)} for design in designs],
        "families": [
            {n: v for n, v in asdict(f).items() if n in names}
            | {"rating_w": f.rated_watts, "limiting_v": f.limiting_volts}
            for f in families
        ],
        "meters": [{"name": m.name, "of_full": m.of_full, **meter_in_words(m)} for m in meters],
    }
    return json.dumps(file, ensure_ascii=False, indent=1).encode()


def read_handover(text: bytes) -> TakenIn:
    """Read a file, whole or not at all.

    Parameters
    ----------
    text : bytes
        JSON.

    Raises
    ------
    LowfoldError
        Naming the place, and what would be right.
    """
    try:
        data = json.loads(text)
    except (ValueError, RecursionError) as error:
        msg = f"the file is not JSON: {str(error)[:200]}"
        raise LowfoldError(msg, field="body") from error
    wrong = unfit(data)
    if wrong:
        raise LowfoldError(wrong, field="body")
    _of_this_version(data)
    try:
        file = HandOver.model_validate(data)
    except ValidationError as error:
        first = field_error(error.errors(include_url=False)[0])
        msg = f"{first.field}: {first.message}"
        raise LowfoldError(msg, field=first.field) from error
    both = zip(file.designs, data["designs"], strict=True)
    return TakenIn(
        [_design(design, raw, k) for k, (design, raw) in enumerate(both)],
        [_family(f, k) for k, f in enumerate(file.families)],
        [_meter(m, k) for k, m in enumerate(file.meters)],
    )


def _family(handed: HandedFamily, place: int) -> Family:
    try:
        return handed.family(handed.name)
    except LowfoldError as error:
        where = f"families.{place}.{error.field or 'name'}"
        msg = f"{where}: {error.message}"
        raise LowfoldError(msg, field=where) from error


def _meter(handed: HandedMeter, place: int) -> MeterModel:
    words = handed.model_dump(exclude={"name", "of_full"})
    try:
        return read_meter(handed.name, words, of_full=handed.of_full)
    except LowfoldError as error:
        where = f"meters.{place}.{error.field or 'name'}"
        msg = f"{where}: {error.message}"
        raise LowfoldError(msg, field=where) from error


def _of_this_version(data: Any) -> None:
    said = data.get("format") if isinstance(data, dict) else None
    if said == FORMAT:
        return
    if isinstance(said, str) and said.startswith("lowfold/"):
        msg = f"this file is of a later Lowfold (“{said[:40]}”; this one reads “{FORMAT}”): update"
    else:
        msg = f"this is no hand-over of a design: its “format” would be “{FORMAT}”"
    raise LowfoldError(msg, field="format")


def _design(design: HandedDesign, raw: dict[str, Any], place: int) -> TakenDesign:
    # Loaded here: the server's own process writes files and reads none.
    from lowfold.formats.pictures import check_picture  # noqa: PLC0415

    pictures = []
    for k, handed in enumerate(design.evidence):
        where = f"designs.{place}.evidence.{k}"
        try:
            image = base64.b64decode(handed.data, validate=True)
        except (binascii.Error, ValueError) as error:
            msg = f"{where}.data is not base 64: {error}"
            raise LowfoldError(msg, field=f"{where}.data") from error
        if hashlib.sha256(image).hexdigest() != handed.sha256:
            msg = f"{where}: the photograph is not the one that its sha256 is of"
            raise LowfoldError(msg, field=f"{where}.sha256")
        try:
            picture = check_picture(image, handed.media)
        except LowfoldError as error:
            msg = f"{where}: {error.message}"
            raise LowfoldError(msg, field=where) from error
        if (picture.width, picture.height) != (handed.width, handed.height):
            msg = f"{where}: the photograph has {picture.width} × {picture.height} pixels"
            raise LowfoldError(msg, field=where)
        pictures.append((handed.at, picture))
    left_out = unknown_tokens(design.kind, design.brief)
    columns = {**_known(design.columns()), "tags": design.tags}
    states = [
        (r.revision, r.at, {**_known(r.columns()), "tags": r.tags or []}) for r in design.revisions
    ]
    return TakenDesign(
        columns,
        design.revision,
        states or [(design.revision, design.updated, columns)],
        [(e.at, e.kind, e.text, e.facts()) for e in design.record],
        pictures,
        as_written=design.digest == digest_of(raw),
        left_out=[f"{design.name}: {name}" for name in left_out],
    )


def _known(columns: dict[str, Any]) -> dict[str, Any]:
    """Return the columns of a state without tokens that its kind of need does not have."""
    unknown = set(unknown_tokens(columns["kind"], columns["brief"]))
    brief = {name: text for name, text in columns["brief"].items() if name not in unknown}
    return {**columns, "brief": brief}
