"""The application as a WSGI server runs it."""

import gc
import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "jolly.settings")
application = get_wsgi_application()
# What is loaded once need not be looked through again: a full collection would hold up a preview.
gc.collect()
gc.freeze()
# What is kept at hand is large and has no cycles: look through all of it seldom.
gc.set_threshold(2000, 20, 200)
