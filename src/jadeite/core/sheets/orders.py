"""Orders in which shapes are laid: a few good ones for a draft, then a seeded search.

How many orders are tried is counted in work done, never in seconds, so the same seed
gives the same result.
"""

from __future__ import annotations

import random
from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace

from jadeite.core.sheets.forms import Shape
from jadeite.core.sheets.nesting import (
    PREFERS,
    QUARTERS,
    Engine,
    Gene,
    Nest,
    NestJob,
    Part,
    Way,
    engine_for,
)
from jadeite.core.sheets.nofit import NoFit

__all__ = ["SEARCH", "draft", "search"]

DRAFT = 50e6  # ns, from memory: what a draft takes, and
EACH = 1.2e6  # ns, from memory: more for each shape; half of it goes into masks
SEARCH = 2e9  # ns; from memory, what a search takes
SOME = 2  # orders are tried in any case; from memory
SLANTED = 3  # shapes; from memory, of so few kinds other angles are tried in a draft
WHOLE = 0.3  # of all changes are of turns, and so many of two places; from memory
ORDERS = 40  # times the square of their number are tried of few shapes; from memory
AGAIN = 0.05  # of all tries repeat the fullest sheet; from memory
OTHER = 0.1  # of all tries prefer places otherwise; from memory


def _ordered(
    masks: NoFit, parts: Sequence[Part], key: Callable[[Shape], float]
) -> tuple[Gene, ...]:
    numbers = sorted(range(len(parts)), key=lambda i: (-key(masks.shapes[i]), i))
    return tuple((i, None) for i in numbers for _ in range(parts[i].count))


def _by_area(shape: Shape) -> float:
    return shape.area


def _by_hull(shape: Shape) -> float:
    return float(shape.outline.convex_hull.area)


def _by_length(shape: Shape) -> float:
    return float(max(shape.form(0.0).cells.shape))


def _whole(engine: Engine, kind: int) -> bool:
    return engine.job.kinds[kind].region is None


def _area(engine: Engine, kind: int) -> float:
    return -engine.job.kinds[kind].area


def _cost(engine: Engine, kind: int) -> float:
    own = engine.job.kinds[kind]
    return own.cost / own.area if own.area else 0.0


def _ways(engine: Engine) -> Iterator[Way]:
    """Orders that are good more often than not, the best first."""
    kinds = tuple(range(len(engine.job.kinds)))
    orders = {kinds: None}  # as the maker has them, the largest first, the cheapest first
    for worth in (_area, _cost):
        orders[tuple(sorted(kinds, key=lambda i: (_whole(engine, i), worth(engine, i))))] = None
    for key, prefers in ((_by_area, 0), (_by_area, 1), (_by_hull, 1), (_by_length, 1)):
        for order in orders:
            yield Way(_ordered(engine.masks, engine.job.parts, key), prefers, order)


def draft(
    job: NestJob,
    *,
    all_or_none: bool = False,
    step: Callable[[float], None] | None = None,
) -> tuple[Nest, Engine]:
    """A good layout, soon.

    With ``all_or_none`` the first that takes all will do.
    """
    budget = DRAFT + EACH * sum(part.count for part in job.parts)
    engines = [engine_for(job, budget / 2)]
    askew = {angle for part in job.parts for some in part.askew for angle in some}
    if askew and len(job.parts) <= SLANTED:
        slanted = replace(engine_for(job, budget, sorted(askew | set(QUARTERS))), askew=True)
        if slanted.takes <= budget:
            engines.append(slanted)
    best: tuple[Nest, Engine] | None = None
    for engine in engines:
        for number, way in enumerate(_ways(engine)):
            enough = number >= SOME and engine.spent > budget
            if best is not None and (enough or _done(best[0], all_or_none)):
                break
            made = engine.fill(way, all_or_none=all_or_none)
            if step is not None:
                step(min(1.0, engine.spent / budget))
            if best is None or made.worth < best[0].worth:
                best = made, engine
    assert best is not None
    if _done(best[0], all_or_none):
        return best
    again = best[1].fill(_repeated(best[0], job), all_or_none=all_or_none)
    if again.worth < best[0].worth:
        best = again, best[1]
    left = budget - best[1].spent
    return _improved(best, left, 0, step, all_or_none=all_or_none)


def _done(nest: Nest, all_or_none: bool) -> bool:
    """Whether nothing that counts can become better."""
    if not nest.left and all_or_none:
        return True
    return len(nest.way.genes) - len(nest.left) <= 1


def search(
    found: tuple[Nest, Engine],
    seed: int = 0,
    *,
    budget: float = SEARCH,
    step: Callable[[float], None] | None = None,
    better: Callable[[Nest], None] | None = None,
) -> tuple[Nest, Engine]:
    """The best of many orders near one that is good, on a lattice as fine as time allows."""
    nest, engine = found
    fine = engine_for(engine.job, budget / 4)
    if fine.cell < engine.cell:
        fine = replace(fine, askew=engine.askew)
        again = fine.fill(nest.way)
        if again.worth <= nest.worth:
            found = again, fine
    return _improved(found, budget, seed, step, better)


def _improved(
    found: tuple[Nest, Engine],
    budget: float,
    seed: int,
    step: Callable[[float], None] | None,
    better: Callable[[Nest], None] | None = None,
    *,
    all_or_none: bool = False,
) -> tuple[Nest, Engine]:
    best, engine = found
    rng = random.Random(seed)
    start, tries = engine.spent, ORDERS * len(best.way.genes) ** 2
    while engine.spent - start < budget and tries > 0 and not _done(best, all_or_none):
        tries -= 1
        way = (
            _changed(best.way, engine, rng) if rng.random() > AGAIN else _repeated(best, engine.job)
        )
        made = engine.fill(way, all_or_none=all_or_none)
        if step is not None:
            step(min(1.0, (engine.spent - start) / budget))
        if made.worth <= best.worth:
            if made.worth < best.worth and better is not None:
                better(made)
            best = made
    return best, engine


def _repeated(nest: Nest, job: NestJob) -> Way:
    """What lies on the fullest sheet, as often as there are copies, and then all else."""
    if not nest.fields:
        return nest.way
    fullest = max(nest.fields, key=lambda pair: pair[1].area / job.kinds[pair[0]].area)[1]
    pattern: list[Gene] = [lying.turned for lying in fullest.lying]
    needs = Counter(part for part, _ in pattern)
    has = Counter(part for part, _ in nest.way.genes)
    times = min(has[part] // count for part, count in needs.items())
    rest: list[Gene] = []
    skip = Counter({part: count * times for part, count in needs.items()})
    for gene in nest.way.genes:
        if skip[gene[0]]:
            skip[gene[0]] -= 1
        else:
            rest.append(gene)
    return replace(nest.way, genes=(*pattern * times, *rest))


def _changed(way: Way, engine: Engine, rng: random.Random) -> Way:
    """A few parts elsewhere in the order, or in another turn."""
    genes, many = list(way.genes), len(way.genes)
    for _ in range(rng.choice((1, 1, 2, 3))):
        what, at = rng.random(), rng.randrange(many)
        if what < WHOLE:
            part, kind = genes[at][0], rng.choice(way.kinds)
            genes[at] = part, rng.choice((None, *engine.turns(part, kind)))
        elif what < 2 * WHOLE:
            other = rng.randrange(many)
            genes[at], genes[other] = genes[other], genes[at]
        else:
            genes.insert(rng.randrange(many), genes.pop(at))
    prefers = rng.randrange(len(PREFERS)) if rng.random() < OTHER else way.prefers
    kinds = list(way.kinds)
    if len(kinds) > 1 and rng.random() < OTHER:
        rng.shuffle(kinds)
        kinds.sort(key=lambda kind: _whole(engine, kind))
    return replace(way, genes=tuple(genes), prefers=prefers, kinds=tuple(kinds))
