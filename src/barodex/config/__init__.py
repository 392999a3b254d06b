"""Django settings, URLs and WSGI; the page's shell."""
