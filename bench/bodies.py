"""How long a thumbnail of the furniture takes and how large it is, each kind in plain cloth, stripe and motif.

python -m bench.bodies
"""

from __future__ import annotations

import time
from statistics import median

from zonatome.core.body.build import MANY_CELLS, body_of, few_cells
from zonatome.core.body.cloth import Look, usual_piece
from zonatome.core.body.picture import Dress, picture_of
from zonatome.core.body.views import USUAL_VIEW, view_named
from zonatome.core.formats.body_glb import body_glb
from zonatome.core.formats.body_svg import body_svg
from zonatome.core.lay.request import Repeat
from zonatome.core.survey.kinds import KINDS

TIMES = 15
LOOKS = {
    "plain": Look((140, 74, 90)),
    "stripe": Look((214, 200, 170), Repeat(None, 96, 0.0, (0, 74))),
    "motif": Look((31, 111, 115), Repeat(320, 344, 0.5, (110, 184))),
}


def main() -> None:
    """Print a row for each kind: milliseconds (the least and the median of all times) and kB."""
    print("kind           " + "".join(f"{name:>24}" for name in LOOKS) + "         model")
    for kind in KINDS.values():
        cells = []
        for look in LOOKS.values():
            taken, size = [], 0
            for _ in range(TIMES):
                begins = time.perf_counter()
                body = body_of(kind, cells=few_cells(kind))
                dress = Dress({p.key: usual_piece(look) for p in body.patches}, is_small=True)
                size = len(body_svg(picture_of(body, view_named(USUAL_VIEW), dress), size=480))
                taken.append(1000 * (time.perf_counter() - begins))
            cells.append(f"{min(taken):8.0f} {median(taken):5.0f} ms {size / 1000:4.0f} kB")
        body = body_of(kind, cells=MANY_CELLS)
        dress = Dress({p.key: usual_piece(LOOKS["motif"]) for p in body.patches})
        body_glb(body, dress)  # the library is read once
        begins = time.perf_counter()
        model = body_glb(body, dress)
        print(
            f"{kind.key:14}"
            + "".join(cells)
            + f"{1000 * (time.perf_counter() - begins):8.0f} ms {len(model) / 1000:4.0f} kB"
        )


if __name__ == "__main__":
    main()
