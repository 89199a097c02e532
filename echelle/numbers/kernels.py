"""Kernels, each with standard deviation 1, so that a bandwidth is the kernel's standard deviation."""

from __future__ import annotations

import math
from typing import Literal, get_args

import numpy as np

from echelle.numbers.sample import Floats

KernelName = Literal["gaussian", "biweight", "epanechnikov", "triangular", "uniform", "raised-cosine"]
KERNELS: tuple[KernelName, ...] = get_args(KernelName)
# How far each reaches, in bandwidths: the support that gives it variance 1. The gaussian's share beyond is below 1e-17.
REACH: dict[KernelName, float] = {
    "gaussian": 8.6,
    "biweight": math.sqrt(7.0),
    "epanechnikov": math.sqrt(5.0),
    "triangular": math.sqrt(6.0),
    "uniform": math.sqrt(3.0),
    "raised-cosine": 1.0 / math.sqrt(1.0 / 3.0 - 2.0 / math.pi**2),
}
ROOT_2PI = math.sqrt(2.0 * math.pi)


def kernel(name: KernelName, u: Floats) -> Floats:
    """The kernel at ``u`` (in bandwidths; any shape)."""
    if name == "gaussian":
        return np.exp(-0.5 * u * u) / ROOT_2PI
    reach = REACH[name]
    v = u / reach
    if name == "epanechnikov":
        inside = 0.75 * (1.0 - v * v)
    elif name == "biweight":
        inside = 0.9375 * (1.0 - v * v) ** 2
    elif name == "triangular":
        inside = 1.0 - np.abs(v)
    elif name == "uniform":
        inside = np.full_like(v, 0.5)
    else:
        inside = 0.5 * (1.0 + np.cos(math.pi * v))
    return np.where(np.abs(v) <= 1.0, inside, 0.0) / reach
