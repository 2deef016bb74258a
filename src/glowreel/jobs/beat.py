"""What sends everything that comes every so often. It carries out nothing, and so loads nothing of the program."""

from __future__ import annotations

import os

from glowreel.jobs.queues import make_celery

celery = make_celery(os.environ["GLOWREEL_REDIS"])
