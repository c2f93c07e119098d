"""`python -m lowfold` is the command line."""

from lowfold.cli import app

if __name__ == "__main__":  # workers import this module under another name
    app()
