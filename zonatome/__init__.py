"""Zonatome: measuring, arithmetic, scheduling and record keeping for people who reupholster furniture."""

import os

__version__ = "0.7.0"  # another one empties what was kept of how jobs stand

# Before numpy is loaded. Our matrices are small: more threads of its linear algebra took a third more of the processor
# for a photo and a seventh more for a rehearsal, and nobody waited less.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
