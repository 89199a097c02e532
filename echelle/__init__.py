"""The core of Echelle: tables, numbers, figures and their drawing, with no server and no interface."""

import os

# What polars no longer needs goes back at once: a tenth of the memory that reading a large file takes at its height.
os.environ.setdefault("_RJEM_MALLOC_CONF", "dirty_decay_ms:0,muzzy_decay_ms:0")

RELEASE = "0.1.0"
