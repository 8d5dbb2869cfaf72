"""How gunicorn serves Open Gate behind nginx: gunicorn -c deploy/gunicorn.py opengate.wsgi"""

import os

bind = os.environ.get("OPEN_GATE_BIND", "127.0.0.1:8000")
workers = int(os.environ.get("OPEN_GATE_WORKERS", "2"))
threads = 4
# The food table is loaded once, before the workers fork: each adds some 65 MB of its own.
preload_app = True
# A worker gives its memory back after so many requests (a hostile import leaves some behind), not all at once.
max_requests, max_requests_jitter = 2000, 400
timeout, graceful_timeout, keepalive = 30, 20, 5
# Addresses and headers are short here; what is longer is not from a browser.
limit_request_line, limit_request_fields, limit_request_field_size = 4094, 60, 8190
forwarded_allow_ips = os.environ.get("OPEN_GATE_TRUSTED_PROXIES", "127.0.0.1")
accesslog = None  # addresses of pages hold numbers of people; nginx logs without them
errorlog = "-"
