"""How lanes differ: estimates, laboratory answers, recommendations."""
