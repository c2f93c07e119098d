"""Which nodes hang together, against networkx."""

import random

import networkx as nx
import pytest

from lowfold.core.network.circuit import Branch
from lowfold.core.network.graph import Ways, distances


@pytest.mark.parametrize("seed", range(20))
def test_distances_are_those_of_networkx(seed: int) -> None:
    rng = random.Random(seed)
    edges = [
        Branch(f"R{k}", rng.randrange(9), rng.randrange(9), 1.0) for k in range(rng.randrange(12))
    ]
    graph = nx.MultiGraph((e.a, e.b) for e in edges)
    graph.add_node(0)
    assert distances(edges, [0]) == nx.single_source_shortest_path_length(graph, 0)
    cut = rng.randrange(1, 9)
    without = graph.copy()
    without.remove_nodes_from([cut])
    inside = nx.single_source_shortest_path_length(without, 0)
    reached = distances(edges, [0], past=[cut])
    assert {n: d for n, d in reached.items() if n != cut} == inside
    assert (cut in reached) == any(graph.has_edge(cut, n) for n in inside)


def test_a_start_that_nothing_touches_is_reached() -> None:
    assert distances([], [3]) == {3: 0}
    assert Ways([Branch("R1", 1, 2, 1.0)]).nodes == (1, 2)
    assert distances([Branch("R1", 1, 2, 1.0)], [2, 5]) == {2: 0, 5: 0, 1: 1}
