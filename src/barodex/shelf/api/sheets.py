"""Sheets over HTTP: written, revised, copied, compared, their sources, and as files."""

from __future__ import annotations

from drf_spectacular.utils import OpenApiParameter, OpenApiTypes, extend_schema
from rest_framework import serializers

from barodex import clock
from barodex.core.kinds.kind import COMPARTMENT_KINDS
from barodex.core.oil import lubricant
from barodex.core.sheet import kit, sheet
from barodex.core.sheet.figures import QUANTITIES, Declared, declared
from barodex.core.sheet.plausible import usual_fill_ml
from barodex.core.words import say
from barodex.http.endpoints import FROM_VERSION, Endpoint, Made, Quantity, Words, answer, shape, started_from
from barodex.shelf import actions, files
from barodex.shelf.models import SpecSheet
from barodex.shelf.queries import comparing, guides
from barodex.shelf.queries import figures as claimed
from barodex.shelf.queries import sheets as queries


class PlugRequest(serializers.Serializer):
    role = serializers.ChoiceField(choices=sheet.PLUG_ROLES)
    label = serializers.CharField(max_length=40)
    drive = serializers.ChoiceField(choices=sheet.DRIVES, default="unknown")
    size_mm = Quantity("length")
    seal = serializers.ChoiceField(choices=sheet.SEALS, default="unknown")
    torque_nm = Quantity("torque")
    magnet = serializers.BooleanField(default=False)


class SourceRequest(serializers.Serializer):
    figure = serializers.ChoiceField(choices=actions.FIGURES_WITH_SOURCE)
    source = serializers.ChoiceField(choices=sheet.SOURCES)
    trust = serializers.ChoiceField(choices=sheet.TRUSTS)
    note = Words(200)


class AmbientRequest(serializers.Serializer):
    grade = serializers.CharField(max_length=40)
    min_c = Quantity("temperature", default=None)
    max_c = Quantity("temperature", default=None)


class HeadRequest(serializers.Serializer):
    plug = serializers.CharField(max_length=40)
    drive = serializers.ChoiceField(choices=sheet.DRIVES, default="unknown")
    size_mm = Quantity("length", default=None)
    torque_nm = Quantity("torque", default=None)


class VariantRequest(serializers.Serializer):
    name = serializers.CharField(max_length=60)
    mark = Words(60)
    capacity_ml = Quantity("volume", default=None)
    grade = Words(40)
    categories = Words(40)
    heads = HeadRequest(many=True, default=list)


class MarkRequest(serializers.Serializer):
    where = serializers.CharField(max_length=80)
    reads = Words(80)
    tells = Words(120)


class KitRequest(serializers.Serializer):
    name = serializers.CharField(max_length=80)
    kind = serializers.ChoiceField(choices=kit.KIT_KINDS)
    count = serializers.IntegerField(min_value=1, max_value=200, default=1)
    mandatory = serializers.BooleanField(default=True)
    use = Words(80)


def figure_field(of: Declared) -> serializers.Field:
    """The field of a request that a figure is sent in."""
    meaning = of.meaning
    bounds = {"min_value": meaning.low, "max_value": meaning.high}
    if meaning.kind in QUANTITIES:
        return Quantity(meaning.kind)
    if meaning.kind == "minutes":
        return serializers.FloatField(allow_null=True, default=None, error_messages={"invalid": "A number of minutes, such as 20."})
    if meaning.kind == "months":
        said = {"invalid": say("A whole number of months, such as 24.")}
        return serializers.IntegerField(allow_null=True, default=None, error_messages=said, **bounds)
    if meaning.kind == "count":
        return serializers.IntegerField(default=of.default, error_messages={"invalid": "A whole number, such as 2."}, **bounds)
    if meaning.kind in ("flag", "three"):
        return serializers.BooleanField(allow_null=meaning.kind == "three", default=of.default)
    if meaning.several:
        one = serializers.ChoiceField(meaning.choices) if meaning.choices else serializers.CharField(max_length=meaning.longest)
        return serializers.ListField(child=one, max_length=meaning.most, default=list)
    if meaning.kind == "text":
        return Words(meaning.longest)
    left_out = {"default": of.default} if not of.asked and of.default in ("", "unknown") else {}
    return serializers.ChoiceField(meaning.choices, allow_blank="" in meaning.choices, **left_out)


class FiguresRequest(serializers.Serializer):
    """The figures of a sheet: those of :class:`barodex.core.sheet.figures.Figures`, and the rows."""

    effective_on = serializers.DateField(required=False, allow_null=True)
    ambient = AmbientRequest(many=True, default=list)
    variants = VariantRequest(many=True, default=list)
    casing_marks = MarkRequest(many=True, default=list)
    kit = KitRequest(many=True, default=list)
    plugs = PlugRequest(many=True)
    sources = SourceRequest(many=True)

    def get_fields(self):
        """The rows, and a field for each scalar figure."""
        return {**super().get_fields(), **{name: figure_field(of) for name, of in declared().items()}}


class SheetRequest(FiguresRequest):
    name = serializers.CharField(max_length=80)
    kind = serializers.ChoiceField(choices=COMPARTMENT_KINDS)


class RevisionRequest(FiguresRequest):
    reason = serializers.CharField(max_length=200)


def _figures(given: dict) -> actions.Figures:
    plugs = tuple(
        sheet.Plug(p["role"], p["label"], p["drive"], p.get("size_mm"), p["seal"], p.get("torque_nm"), p["magnet"])
        for p in given.pop("plugs")
    )
    sources = tuple(actions.Source(**s) for s in given.pop("sources"))
    given |= {name: tuple(given[name]) for name, of in declared().items() if of.meaning.several}
    rows = {
        "ambient": tuple(lubricant.AmbientGrade(**a) for a in given.pop("ambient")),
        "variants": tuple(sheet.Variant(**{**v, "heads": tuple(sheet.Head(**h) for h in v["heads"])}) for v in given.pop("variants")),
        "casing_marks": tuple(sheet.CasingMark(**m) for m in given.pop("casing_marks")),
        "kit": tuple(kit.KitItem(**k) for k in given.pop("kit")),
    }
    return actions.Figures(**given, **rows, plugs=plugs, sources=sources)


class Sheets(Endpoint):
    """Every sheet; write a new one."""

    roles = {"GET": "viewer", "POST": "lead"}

    @extend_schema(operation_id="sheets", responses=shape(queries.SheetView, many=True))
    def get(self, request):
        return answer(queries.sheets())

    @extend_schema(operation_id="write_sheet", request=SheetRequest, responses={201: shape(Made)})
    def post(self, request):
        given = self.read(SheetRequest, usual_fill_ml(str(request.data.get("kind", ""))))
        name, kind = given.pop("name"), given.pop("kind")
        return answer(Made(actions.write_sheet(request.user, name, kind, _figures(given)).pk), 201)


class Sheet(Endpoint):
    """One sheet; revise it."""

    roles = {"GET": "viewer", "POST": "lead"}

    @extend_schema(operation_id="sheet", responses=shape(queries.SheetView))
    def get(self, request, sheet: int):
        return answer(queries.sheet(sheet))

    @extend_schema(operation_id="revise_sheet", request=RevisionRequest, responses={201: shape(Made)}, parameters=[FROM_VERSION])
    def post(self, request, sheet: int):
        given = self.read(RevisionRequest, usual_fill_ml(SpecSheet.objects.get(pk=sheet).kind))
        reason = given.pop("reason")
        based_on = started_from(request)
        return answer(Made(actions.revise_sheet(request.user, sheet, _figures(given), reason, based_on).pk), 201)


class CopyRequest(serializers.Serializer):
    name = serializers.CharField(max_length=80)


class CopySheet(Endpoint):
    """Write a new sheet with the figures of another."""

    roles = {"POST": "lead"}

    @extend_schema(operation_id="copy_sheet", request=CopyRequest, responses={201: shape(Made)})
    def post(self, request, sheet: int):
        return answer(Made(actions.copy_sheet(request.user, sheet, self.read(CopyRequest)["name"]).pk), 201)


class Figures(Endpoint):
    """Every figure of a sheet with its sources side by side."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="figures", responses=shape(claimed.FigureView, many=True))
    def get(self, request, sheet: int):
        return answer(claimed.figures(sheet, request.user.unit_system))


class ClaimRequest(serializers.Serializer):
    figure = serializers.CharField(max_length=60)
    text = serializers.CharField(max_length=60)
    source = serializers.ChoiceField(choices=sheet.SOURCES)
    trust = serializers.ChoiceField(choices=sheet.TRUSTS, default="unknown")
    published = serializers.DateField(required=False, allow_null=True, default=None)
    note = Words(200)


class Claims(Endpoint):
    """Keep what a source says of a figure."""

    roles = {"POST": "technician"}

    @extend_schema(operation_id="add_claim", request=ClaimRequest, responses={201: shape(Made)})
    def post(self, request, sheet: int):
        return answer(Made(actions.add_claim(request.user, sheet, actions.Said(**self.read(ClaimRequest))).pk), 201)


class ReasonRequest(serializers.Serializer):
    reason = serializers.CharField(max_length=200)


class ChooseClaim(Endpoint):
    """Make what a source says the sheet's figure."""

    roles = {"POST": "lead"}

    @extend_schema(operation_id="choose_claim", request=ReasonRequest, responses={201: shape(Made)})
    def post(self, request, claim: int):
        return answer(Made(actions.choose_claim(request.user, claim, self.read(ReasonRequest)["reason"]).number), 201)


class TrustRequest(serializers.Serializer):
    figure = serializers.ChoiceField(choices=actions.FIGURES_WITH_SOURCE)
    trust = serializers.ChoiceField(choices=sheet.TRUSTS)
    how = serializers.CharField(max_length=200)


class Trust(Endpoint):
    """Say how far a figure can be trusted."""

    roles = {"POST": "technician"}

    @extend_schema(operation_id="trust_figure", request=TrustRequest, responses={201: shape(Made)})
    def post(self, request, sheet: int):
        given = self.read(TrustRequest)
        return answer(Made(actions.trust_figure(request.user, sheet, given["figure"], given["trust"], given["how"]).number), 201)


class Compare(Endpoint):
    """What changed from one revision to another."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="compare_revisions", responses=shape(comparing.Comparison))
    def get(self, request, sheet: int, older: int, newer: int):
        return answer(comparing.compare(sheet, older, newer, request.user.unit_system))


class DeclaredSheet(Endpoint):
    """What a sheet may say, for its form: the scalar figures, and the words of its rows."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="declared_sheet", responses=shape(claimed.SheetWords))
    def get(self, request):
        return answer(claimed.sheet_words())


class SheetFile(Endpoint):
    """A sheet as a JSON file."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="sheet_file", responses=OpenApiTypes.OBJECT)
    def get(self, request, sheet: int):
        response = answer(files.write_file(sheet))
        response["Content-Disposition"] = say('attachment; filename="sheet-{sheet}.json"', sheet=sheet)
        return response


class Guide(Endpoint):
    """The guide that a sheet leads to, before anything is started."""

    roles = {"GET": "viewer"}

    @extend_schema(
        operation_id="sheet_guide",
        responses=shape(guides.GuideView),
        parameters=[
            OpenApiParameter("vehicle_kind", str, description="kind of vehicle; a car when left out"),
            OpenApiParameter("work", str, description="kind of service; the sheet's usual one when left out"),
        ],
    )
    def get(self, request, sheet: int):
        return answer(
            guides.guide_of(sheet, request.query_params.get("vehicle_kind") or "car", clock.today(), request.query_params.get("work") or "")
        )


class SheetSchema(Endpoint):
    """The JSON Schema of a sheet file."""

    roles = {"GET": "viewer"}

    @extend_schema(operation_id="sheet_schema", responses=OpenApiTypes.OBJECT)
    def get(self, request):
        return answer(files.schema())


class FileRequest(serializers.Serializer):
    text = serializers.CharField(max_length=files.MOST_CHARACTERS, trim_whitespace=False)


class SheetReading(Endpoint):
    """Read a sheet file for review; nothing is written."""

    roles = {"POST": "lead"}

    @extend_schema(operation_id="read_sheet_file", request=FileRequest, responses=shape(files.FileReport))
    def post(self, request):
        return answer(files.read_file(self.read(FileRequest)["text"], request.user.unit_system))


class NamingRequest(serializers.Serializer):
    name = serializers.CharField(max_length=60)
    place = serializers.ChoiceField(choices=("sheet", "plug"))
    ours = Words(40)


class NamesRequest(serializers.Serializer):
    names = NamingRequest(many=True)


class SheetNames(Endpoint):
    """Keep what the field names of other people's files mean."""

    roles = {"POST": "lead"}

    @extend_schema(operation_id="keep_field_names", request=NamesRequest, responses={201: shape(Made)})
    def post(self, request):
        return answer(Made(files.keep_names(request.user, tuple(files.Naming(**n) for n in self.read(NamesRequest)["names"]))), 201)
