from glowreel.web.editor import alone, routes

__all__ = ["alone", "routes"]
