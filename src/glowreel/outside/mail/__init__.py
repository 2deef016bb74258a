"""Letters that leave: the port to a mail server, and a made-up one."""
