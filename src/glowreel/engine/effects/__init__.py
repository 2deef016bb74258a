"""How effects are drawn: one function for each row of the tables in `core.effects`, under the same name.

A function is given what is drawn so far by itself (premultiplied BGRA), the parameters by name, and the `Area`: pixels
to a canonical unit and where in the pixels the thing itself lies. It returns pixels of the same shape and may use
those it was given again.
"""

from glowreel.engine.effects import crisp, edges, film, grade, key, planes, play, table

__all__ = ["crisp", "edges", "film", "grade", "key", "planes", "play", "table"]
