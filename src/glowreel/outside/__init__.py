"""Ports to the world outside, and the stand-ins behind them. What is fetched is checked before and while it comes."""
