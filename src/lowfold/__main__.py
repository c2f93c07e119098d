"""`python -m lowfold` is the command line."""

from lowfold.cli import app

app()
