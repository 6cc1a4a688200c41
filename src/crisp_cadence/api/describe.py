"""Writes the API's own description, from which the browser's types are made: python -m
crisp_cadence.api.describe FILE.
"""

from __future__ import annotations

import json
import sys
from pathlib import Path

from .app import make_app

if __name__ == "__main__":
    Path(sys.argv[1]).write_text(json.dumps(make_app(Path()).openapi()), encoding="utf-8")
