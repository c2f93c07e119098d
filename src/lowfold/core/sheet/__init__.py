"""A need with its choices, one of them opened, and how a kept design stands."""
