"""How much is taken in, by route, from one table; and how long it may take to arrive."""

from __future__ import annotations

import re

from ..core.design.design import LARGEST_DESIGN, LARGEST_FILE
from ..core.machine.design import LARGEST_MACHINE
from ..exchange.sound import LARGEST_SOUND
from ..store.machines import LARGEST_PLAN

LARGEST_SENT = LARGEST_SOUND * 4 // 3 + 1000  # bytes; a sound goes as base64
# bytes; a larger body is read to its end (and dropped) up to here, so that the sender sees the answer
READ_ON = 128_000_000
PIECE_S = 10.0  # how long the next piece of a body may take
WHOLE_S = 40.0  # how long all of it may take
HEAD_BYTES = 32_768  # of a request's line and headers
HEAD_S = 10.0  # how long they may take, and how long a connection may stay silent

# The first pattern that a path begins with decides.
TABLE: tuple[tuple[re.Pattern[str], int, str], ...] = tuple(
    (re.compile(pattern), most, what)
    for pattern, most, what in (
        (r"/api/machines/import$", LARGEST_MACHINE, "A machine's file"),
        (r"/api/machines/[^/]*/plan$", LARGEST_PLAN, "A machine's plan"),
        (r"/api/machines/[^/]*/import$", LARGEST_FILE, "A design file"),
        (r"/api/listen$", LARGEST_SENT, "A sound"),
        (r"/api/drawer/(preview|import)$", 2_200_000, "A drawer file"),
        (r"/api/(machines|store|axes/[^/]*/(log|rides|restore|back))\b", 64_000, "This"),
        (r"/api/drawer/(out|back)$", 2_600_000, "A list of parts"),
        (r"/api/drawer", 64_000, "A part"),
        (r"/", LARGEST_DESIGN + 100_000, "A design with what goes with it"),
    )
)


def limit_of(path: str) -> tuple[int, str]:
    """Bytes that a body to a path may have, and what it is.

    >>> limit_of("/api/axes/0123456789ab/log")
    (64000, 'This')
    """
    return next((most, what) for pattern, most, what in TABLE if pattern.match(path))
