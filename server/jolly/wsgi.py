"""The entry point for a WSGI server."""

import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "jolly.settings")
application = get_wsgi_application()
