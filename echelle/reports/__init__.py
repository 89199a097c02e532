"""Reports: figures, numbers and how they came about, for a notebook or an auditor."""
