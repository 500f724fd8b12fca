"""Zonatome: measuring, arithmetic, scheduling and record keeping for people who reupholster furniture."""

__version__ = "0.7.0"  # another one empties what was kept of how jobs stand
