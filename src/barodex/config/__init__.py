"""Django settings, URLs and WSGI; the page's shell; the one place where failures become HTTP."""
