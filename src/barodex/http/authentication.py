"""Session authentication that answers 401, so that the page knows to ask for a sign-in."""

from rest_framework.authentication import SessionAuthentication


class Session(SessionAuthentication):
    """Django sessions with CSRF."""

    def authenticate_header(self, request):
        return "Session"
