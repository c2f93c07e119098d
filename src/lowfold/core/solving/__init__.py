"""What a network does at given values: node potentials, balances, an unknown part."""
