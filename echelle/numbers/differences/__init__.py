"""How lanes differ: estimates, tests, reference limits, control rules."""
