"""`python -m wander`: the command line."""

from wander.cli.main import app

app(prog_name="wander")
