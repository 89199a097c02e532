"""Where things stand on a sheet: frames, axes, lanes, letters."""
