"""The demo: Hollowmere Balloons, a made-up firm over a made-up valley, and its promos."""
