"""What the user works with: a sheet, a choice opened, advice, how a design stands."""
