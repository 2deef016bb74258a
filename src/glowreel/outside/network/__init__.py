"""Networks on which films are published: the port to them, and three made-up ones."""
