"""Pass, marginal, fail."""

from lowfold.core.checking.verdict import Verdict, verdict_on, worst


def test_verdicts_at_their_edges() -> None:
    # The contract: marginal is inside with less than a tenth of the allowance left
    assert verdict_on(0.9, 1.0) is Verdict.PASS
    assert verdict_on(0.9001, 1.0) is Verdict.MARGINAL
    assert verdict_on(1.0, 1.0) is Verdict.MARGINAL
    assert verdict_on(1.0001, 1.0) is Verdict.FAIL
    assert verdict_on(0.1 + 0.2, 0.3) is Verdict.MARGINAL  # rounding alone does not fail it
    assert worst([Verdict.PASS, None, Verdict.FAIL, Verdict.MARGINAL]) is Verdict.FAIL
    assert worst([None]) is None
