"""The made-up firm's own little web site, as a stand-in for a real one.

`python -m glowreel.outside.site SOCKET` serves it on a bound socket of that number.
"""
