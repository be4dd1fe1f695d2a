"""The application as a WSGI callable."""

import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "aestiva.settings")
application = get_wsgi_application()
