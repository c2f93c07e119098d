"""Steps that bring an older database to this version."""
