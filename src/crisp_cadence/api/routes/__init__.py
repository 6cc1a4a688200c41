"""Routes by subject: each one takes a typed request, asks core or store, and gives a typed answer.

Within a subject they are matched from top to bottom; no two subjects share a path.
"""

from . import choosing, design, drawer, log, machines, shelf, start
from .common import router

__all__ = ["choosing", "design", "drawer", "log", "machines", "router", "shelf", "start"]
