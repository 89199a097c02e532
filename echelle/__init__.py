"""The core of Echelle: tables, numbers, figures and their drawing, with no server and no interface."""

RELEASE = "0.1.0"
