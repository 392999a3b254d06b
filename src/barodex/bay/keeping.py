"""What a service keeps of itself: its page and its gaps from the signature on."""

from __future__ import annotations

from dataclasses import replace

from barodex import clock
from barodex.core.guide.stored import CONVERTER
from barodex.core.run.gaps import GapReport

from .models import Service, SignedPage
from .views import ServiceView


def keep_page(service: Service, view: ServiceView, gaps: GapReport) -> None:
    """Keep what a signed service shows."""
    SignedPage.objects.create(service=service, view=CONVERTER.unstructure(view), gaps=CONVERTER.unstructure(gaps))


def page_of(service: Service) -> ServiceView:
    """The page of a signed service as it was; what may still change (name and plate, records, photos) is the caller's. Raises
    SignedPage.DoesNotExist."""
    return replace(CONVERTER.structure(SignedPage.objects.get(service=service).view, ServiceView), now=clock.now())


def gaps_of(service: Service) -> GapReport:
    """The gap report of a signed service as it was; raises SignedPage.DoesNotExist."""
    return CONVERTER.structure(SignedPage.objects.get(service=service).gaps, GapReport)
