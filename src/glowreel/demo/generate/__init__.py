"""Makes the demo's material, the same every time: `python -m glowreel.demo.generate`."""
