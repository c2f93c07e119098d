"""A need said in one line, and a brief written as one."""
