"""python -m echelle.command_line"""

from echelle.command_line.main import main

main()
