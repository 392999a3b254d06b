"""The guide of a sheet, read before anything is started."""


def guide(api, sheet, expect=200, **query):
    tail = "&".join(f"{k}={v}" for k, v in query.items())
    return api.viewer.get(f"/api/sheets/{sheet}/guide?{tail}", expect)


def test_a_guide_is_read_without_a_service(api, depot):
    from barodex.bay.models import Service

    made = guide(api, depot.box.pk)
    ids = [s["id"] for s in made["steps"]]
    assert ids[0] == "ready"
    assert ids[-1] == "sign"
    drain = next(s for s in made["steps"] if s["id"] == "drain.0")
    assert drain["gate"]
    assert any("crack the fill plug loose" in t for t in drain["opens_after"])
    assert next(s for s in made["steps"] if s["id"] == "measure.0")["minutes"] > 0
    assert Service.objects.count() == 0


def test_it_differs_by_vehicle_and_refuses_one_of_no_kind(api, depot):
    def safe(kind):
        return next(s for s in guide(api, depot.box.pk, vehicle_kind=kind)["steps"] if s["id"] == "safe")["checklist"]

    assert safe("motorcycle") != safe("car")
    assert "not a kind of vehicle" in guide(api, depot.box.pk, 422, vehicle_kind="hovercraft")["detail"]
    guide(api, 999, 404)
