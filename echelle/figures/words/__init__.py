"""The words of a figure: method note, explanations, description."""
