"""The layers, one file each: what a layer draws and what it says of itself."""
