"""Routes by subject: each one takes a typed request, asks core or store, and gives a typed answer.

They are matched in the order in which these modules are loaded, and within one from top to bottom.
"""

from . import start, design, choosing, shelf, log, drawer  # noqa: F401, I001
from .common import router

__all__ = ["router"]
