"""Every kind in every set of variants that can stand beside each other."""

from itertools import combinations

import pytest

from zonatome.core.survey.furniture import with_variants
from zonatome.core.survey.kinds import KINDS


def every_make():
    for kind in KINDS.values():
        keys = [v.key for v in kind.variants]
        for n in range(len(keys) + 1):
            for chosen in combinations(keys, n):
                if not any(set(v.instead_of) & set(chosen) for v in kind.variants if v.key in chosen):
                    yield pytest.param(with_variants(kind, chosen), id="+".join([kind.key, *chosen]))


MAKES = list(every_make())
EVERY_MAKE = pytest.mark.parametrize("kind", MAKES)
EVERY_KIND = pytest.mark.parametrize("kind", KINDS.values(), ids=KINDS)
