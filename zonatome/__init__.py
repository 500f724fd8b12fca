"""Zonatome: measuring, arithmetic, scheduling and record keeping for people who reupholster furniture."""

__version__ = "0.1.0"
