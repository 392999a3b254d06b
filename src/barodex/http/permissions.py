"""Who may call an endpoint: each says so in ``roles``, and the default is nobody."""

from rest_framework.permissions import BasePermission

from barodex.core.words import say

ANYONE = "anyone"


class Nobody(BasePermission):
    """The default: an endpoint that does not say who may call it answers nobody."""

    def has_permission(self, request, view):
        return False


class ByRole(BasePermission):
    """Reads ``view.roles``: method to the least role that may use it, or ``anyone``."""

    message = say("Your role does not allow this.")

    def has_permission(self, request, view):
        role = view.roles.get(request.method)
        if role == ANYONE:
            return True
        return role is not None and bool(request.user) and request.user.is_authenticated and request.user.may(role)
