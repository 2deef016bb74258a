"""Attacks on the program: files made to break it, and what dies, fills up or floods while people work."""
