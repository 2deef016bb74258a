"""The queues: which task waits in which, and what comes every so often. Nothing here needs the program itself."""

from __future__ import annotations

from celery import Celery

SWEEP_SECONDS = 10.0
TIDY_SECONDS = 3600.0
MODELS_SECONDS = 60.0
ROUTES: dict[str, tuple[str, ...]] = {
    "exports": ("glowreel.export_plan", "glowreel.export_piece", "glowreel.export_join"),
    "derived": ("glowreel.derive", "glowreel.speak"),
    "imports": ("glowreel.ingest", "glowreel.open", "glowreel.fetch", "glowreel.fetch_model", "glowreel.batch"),
}
"""Which queue a task waits in (`services.machines.QUEUES`); what is in none is an errand."""


def make_celery(redis: str) -> Celery:
    """The application of the queues, carried by a Redis of this address. It knows no task yet."""
    celery = Celery("glowreel", broker=redis)
    celery.conf.update(
        task_acks_late=True,
        task_reject_on_worker_lost=False,
        task_ignore_result=True,
        worker_prefetch_multiplier=1,
        task_time_limit=18000,
        worker_max_tasks_per_child=200,
        broker_connection_retry_on_startup=True,
        worker_hijack_root_logger=False,
        beat_schedule={
            "sweep": {"task": "glowreel.sweep", "schedule": SWEEP_SECONDS},
            "tidy": {"task": "glowreel.tidy", "schedule": TIDY_SECONDS},
            "models": {"task": "glowreel.fetch_models", "schedule": MODELS_SECONDS},
        },
        task_default_queue="errands",
        # Each kind waits for its own only: a file that takes long to look at holds up no film and no letter.
        task_routes={name: {"queue": queue} for queue, names in ROUTES.items() for name in names},
        broker_transport_options={"queue_order_strategy": "priority", "visibility_timeout": 7200},
        broker_connection_timeout=3,
    )
    return celery
