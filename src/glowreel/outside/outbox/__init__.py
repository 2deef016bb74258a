"""A page with the letters that the made-up mail server took, for whoever tries the program on this machine."""
