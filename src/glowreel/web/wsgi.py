"""What the web server runs."""

import gc

from glowreel import logs
from glowreel.jobs.app import runtime
from glowreel.web.app import create_app

logs.begin()
application = create_app(runtime)

# Documents are large, live long and hold no cycles. Looking through all of them for garbage as often as Python does by
# itself stops an edit for more than a tenth of a second now and then.
gc.freeze()
gc.set_threshold(50_000, 20, 100)
