"""Questions by level and seed, drawn once for all tests of a run: most are asked about again."""

from functools import cache

from lowfold.core.practice import estimate, fault_drill, series

estimate_question = cache(estimate.estimate_question)
fault_question = cache(fault_drill.fault_question)
series_question = cache(series.series_question)
