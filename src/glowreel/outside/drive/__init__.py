"""Files in a cloud drive: the port through which the program sees them, and the made-up drive that plays one."""
