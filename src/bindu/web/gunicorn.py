"""How gunicorn runs the application."""

from bindu.collector import calm_collector

# Before the application is loaded: nothing of that is garbage, and looking for it takes a tenth of
# the time of a start.
calm_collector()

preload_app = True
"""Loaded once, before the workers are forked: a second worker costs next to nothing, and one that
takes a dead one's place serves at once."""
worker_class = "bindu.web.worker.BoundedWorker"
threads = 48
"""More than work at one time: one that waits for the rest of a request costs next to nothing."""
worker_connections = 200
timeout = 120
graceful_timeout = 3
keepalive = 5
limit_request_line = 8190
limit_request_fields = 60
limit_request_field_size = 8190
loglevel = "warning"
