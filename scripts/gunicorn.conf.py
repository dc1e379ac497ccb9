"""Gunicorn's settings; ./start gives the address."""

worker_class = "skavit.serving.BufferedWorker"
workers = 2
# More than the processor has: those that wait for a year to be worked out must not keep the others from a thread.
threads = 12
# A worker gives back what it has gathered.
max_requests = 2000
max_requests_jitter = 400
timeout = 30
graceful_timeout = 45
loglevel = "warning"
