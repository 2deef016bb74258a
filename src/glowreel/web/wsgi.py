"""What the web server runs."""

from glowreel.jobs.app import parts
from glowreel.web.app import create_app

application = create_app(parts)
