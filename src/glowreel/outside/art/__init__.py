"""The project's own art: pictures, footage and music made from a few words' worth of parameters.

A `Painting` says what is seen, when, in which weather and colours; the same painting is always the same picture.
Stand-ins for a stock catalogue and for a maker of pictures draw with it.
"""
