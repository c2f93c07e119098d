"""What a part from the bin looks like: every mark says the part's own value."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lowfold.core.marks.appearance import appearance_of
from lowfold.core.marks.bands import read_bands
from lowfold.core.marks.codes import read_code
from lowfold.core.values.preferred import series_values

LOOKS = [  # Ω, tolerance, family, look, what is seen; common practice
    (4700.0, 0.05, "1/4 W film", "bands", ("yellow", "violet", "red", "gold")),
    (4700.0, 0.01, "1/4 W film", "bands", ("yellow", "violet", "black", "brown", "brown")),
    (475.0, 0.01, "", "bands", ("yellow", "violet", "green", "black", "brown")),
    (4750.0, 0.01, "0603", "chip", "66B"),
    (200e3, 0.01, "0603", "chip", "30D"),
    (56e3, 0.01, "thin film 0603", "chip", "563"),
    (4750.0, 0.01, "0805", "chip", "4751"),
    (4700.0, 0.05, "1206", "chip", "472"),
    (8.2, 0.05, "5 W wirewound", "printed", "8R2"),
]


@pytest.mark.parametrize(("ohms", "tolerance", "family", "look", "seen"), LOOKS)
def test_what_is_seen(
    ohms: float, tolerance: float, family: str, look: str, seen: str | tuple[str, ...]
) -> None:
    found = appearance_of(ohms, tolerance, family)
    assert found.look == look
    assert (found.bands or found.code) == seen


def test_where_nothing_is_marked_it_says_why() -> None:
    assert appearance_of(1e3, 0.01, "0402").why.startswith("nothing is marked on 0402")
    assert appearance_of(1e3, 0.03, "1/4 W film").why == "no band stands for ± 3 %"
    assert appearance_of(4752.3, 0.01, "0805").why == (
        "4.7523 kΩ does not fit three digits and a power of ten, or three digits about an R"
    )


@given(
    st.sampled_from([float(v) for v in series_values(["E24", "E96"], 1.0, 1e6)]),
    st.sampled_from([0.05, 0.02, 0.01, 0.001]),
    st.sampled_from(["1/4 W film", "0603", "0805", "2512", "5 W wirewound"]),
)
def test_what_is_seen_reads_back_as_the_part(ohms: float, tolerance: float, family: str) -> None:
    found = appearance_of(ohms, tolerance, family)
    if found.bands:
        reads = read_bands(found.bands)
        assert any(float(r.ohms) == ohms and r.tolerance == tolerance for r in reads)
    elif found.code:
        assert ohms in [float(r.ohms) for r in read_code(found.code)]
    else:
        assert found.why
