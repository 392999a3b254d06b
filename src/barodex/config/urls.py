"""Every address. Below /api: the API; everything else is the page."""

from django.urls import path, re_path

from barodex.accounts import api as accounts
from barodex.bay import api as bay
from barodex.bench import api as bench
from barodex.bench import oil
from barodex.book import api as book
from barodex.devices import api as devices
from barodex.fleet import api as fleet
from barodex.plan import api as plan
from barodex.shelf import api as shelf

from . import page, schema  # noqa: F401  (the import registers our schema extensions)

api_patterns = [
    path("api/session", accounts.SessionEndpoint.as_view(), name="session"),
    path("api/session/demo", accounts.DemoEndpoint.as_view(), name="demo"),
    path("api/due", plan.Due.as_view(), name="due"),
    path("api/due/<int:vehicle>", plan.VehicleDue.as_view(), name="vehicle-due"),
    path("api/words", fleet.Vocabularies.as_view(), name="words"),
    path("api/vehicles", fleet.Vehicles.as_view(), name="vehicles"),
    path("api/vehicles/<int:vehicle>/compartments", fleet.Compartments.as_view(), name="compartments"),
    path("api/vehicles/<int:vehicle>/readings", fleet.Readings.as_view(), name="readings"),
    path("api/readings/file", fleet.ReadingsFile.as_view(), name="readings-file"),
    path("api/sheets", shelf.Sheets.as_view(), name="sheets"),
    path("api/sheets/<int:sheet>", shelf.Sheet.as_view(), name="sheet"),
    path("api/sheets/<int:sheet>/copy", shelf.CopySheet.as_view(), name="copy-sheet"),
    path("api/sheets/<int:sheet>/figures", shelf.Figures.as_view(), name="figures"),
    path("api/sheets/<int:sheet>/claims", shelf.Claims.as_view(), name="claims"),
    path("api/sheets/<int:sheet>/trust", shelf.Trust.as_view(), name="trust"),
    path("api/sheets/<int:sheet>/compare/<int:older>/<int:newer>", shelf.Compare.as_view(), name="compare"),
    path("api/sheets/<int:sheet>/superseded", shelf.Superseded.as_view(), name="superseded"),
    path("api/sheets/<int:sheet>/guide", shelf.Guide.as_view(), name="sheet-guide"),
    path("api/sheets/<int:sheet>/file", shelf.SheetFile.as_view(), name="sheet-file"),
    path("api/sheets/file", shelf.SheetReading.as_view(), name="sheet-reading"),
    path("api/sheets/file/names", shelf.SheetNames.as_view(), name="sheet-names"),
    path("api/sheets/file/schema", shelf.SheetSchema.as_view(), name="sheet-schema"),
    path("api/claims/<int:claim>/choose", shelf.ChooseClaim.as_view(), name="choose-claim"),
    path("api/lubricants", shelf.Lubricants.as_view(), name="lubricants"),
    path("api/lubricants/chart", shelf.Chart.as_view(), name="viscosity-chart"),
    path("api/lubricants/scales", shelf.Scales.as_view(), name="scales"),
    path("api/lubricants/<int:lubricant>", shelf.Lubricant.as_view(), name="lubricant"),
    path("api/lubricants/<int:lubricant>/places", shelf.Places.as_view(), name="places"),
    path("api/compartments/<int:compartment>/oils", shelf.CompartmentOils.as_view(), name="compartment-oils"),
    path("api/additives", shelf.Additives.as_view(), name="additives"),
    path("api/containers", shelf.Containers.as_view(), name="containers"),
    path("api/containers/<int:container>", shelf.Container.as_view(), name="container"),
    path("api/containers/<int:container>/take", shelf.TakeOut.as_view(), name="take-out"),
    path("api/containers/<int:container>/count", shelf.Recount.as_view(), name="recount"),
    path("api/containers/<int:container>/carry", shelf.Carry.as_view(), name="carry"),
    path("api/store", shelf.Store.as_view(), name="store"),
    path("api/shopping", shelf.Shopping.as_view(), name="shopping"),
    path("api/shopping/file", shelf.ShoppingFile.as_view(), name="shopping-file"),
    path("api/policy", plan.Policy.as_view(), name="policy"),
    path("api/services", bay.Services.as_view(), name="services"),
    path("api/services/kit", bay.Kit.as_view(), name="visit-kit"),
    path("api/services/start/<int:vehicle>", bay.Start.as_view(), name="start"),
    path("api/services/<int:service>", bay.Service.as_view(), name="service"),
    path("api/services/<int:service>/events", bay.Events.as_view(), name="events"),
    path("api/services/<int:service>/trial", bay.Trial.as_view(), name="trial"),
    path("api/services/<int:service>/pour/<str:compartment>", bay.Pour.as_view(), name="pour"),
    path("api/services/<int:service>/photos", bay.Photos.as_view(), name="photos"),
    path("api/photos/<uuid:photo>", bay.Photo.as_view(), name="photo"),
    path("api/photos/<uuid:photo>/small", bay.SmallPhoto.as_view(), name="small-photo"),
    path("api/devices", devices.Devices.as_view(), name="devices"),
    path("api/services/<int:service>/scan", devices.Scan.as_view(), name="scan"),
    path("api/services/<int:service>/scan/reset", devices.Reset.as_view(), name="scan-reset"),
    path("api/services/<int:service>/scale", devices.Scale.as_view(), name="scale"),
    path("api/vehicles/<int:vehicle>/meter-feed", devices.Feed.as_view(), name="meter-feed"),
    path("api/debris", bay.Debris.as_view(), name="debris"),
    path("api/book", book.Book.as_view(), name="book"),
    path("api/book/waste", book.Waste.as_view(), name="waste"),
    path("api/book/<int:compartment>", book.History.as_view(), name="history"),
    path("api/book/<int:compartment>/file", book.HistoryFile.as_view(), name="history-file"),
    path("api/records/<int:record>/corrections", book.Corrections.as_view(), name="corrections"),
    path("api/records/<int:record>/adopt", book.Adopt.as_view(), name="adopt-capacity"),
    path("api/records/<int:record>/paper", book.JobPaper.as_view(), name="job-paper"),
    path("api/follow-ups/<int:follow_up>", book.FollowUps.as_view(), name="follow-up"),
    path("api/bench/read", bench.Read.as_view(), name="bench-read"),
    path("api/bench/pour", bench.Pour.as_view(), name="bench-pour"),
    path("api/bench/torque", bench.Torque.as_view(), name="bench-torque"),
    path("api/bench/drip", bench.Drip.as_view(), name="bench-drip"),
    path("api/bench/dip", oil.Dip.as_view(), name="bench-dip"),
    path("api/bench/tilt", oil.Tilt.as_view(), name="bench-tilt"),
    path("api/bench/slope", oil.Slope.as_view(), name="bench-slope"),
    path("api/bench/raise", oil.Raise.as_view(), name="bench-raise"),
    path("api/bench/bolts", bench.Bolts.as_view(), name="bench-bolts"),
    path("api/bench/exchange", oil.Exchange.as_view(), name="bench-exchange"),
    path("api/bench/viscosity", oil.Viscosity.as_view(), name="bench-viscosity"),
    path("api/bench/next-due", bench.NextDue.as_view(), name="bench-next-due"),
]
urlpatterns = [*api_patterns, re_path(r"^api/", page.not_found, name="api-not-found"), re_path(r"^(?P<path>.*)$", page.shell, name="page")]
