"""Gunicorn's settings; ./start gives the address."""

worker_class = "skavit.serving.BufferedWorker"
workers = 2
threads = 4
# A worker gives back what it has gathered.
max_requests = 2000
max_requests_jitter = 400
timeout = 30
graceful_timeout = 15
loglevel = "warning"
