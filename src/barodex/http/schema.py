"""How drf-spectacular describes our own fields."""

from drf_spectacular.extensions import OpenApiAuthenticationExtension, OpenApiSerializerFieldExtension


class QuantitySchema(OpenApiSerializerFieldExtension):
    """A quantity is a number in the canonical unit or text as typed."""

    target_class = "barodex.http.endpoints.Quantity"

    def map_serializer_field(self, auto_schema, direction):
        return {"oneOf": [{"type": "number"}, {"type": "string"}], "description": f"{self.target.kind}: canonical number, or text as typed"}


class SessionScheme(OpenApiAuthenticationExtension):
    """Django's session cookie with the CSRF header."""

    target_class = "barodex.http.authentication.Session"
    name = "session"

    def get_security_definition(self, auto_schema):
        return {"type": "apiKey", "in": "cookie", "name": "sessionid"}


def answers_are_whole(result, generator, request, public):
    """An answer is a dataclass written whole: each of its fields is always there, also one that has a default."""
    for name, component in result["components"]["schemas"].items():
        if not name.endswith("Request") and component.get("properties"):
            component["required"] = sorted(component["properties"])
    return result
