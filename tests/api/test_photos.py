"""Photos: taken by content, upright, without what a camera adds; a script or a bomb is refused; they show in the record."""

import io
import uuid

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image

from barodex.bay.photo_actions import read_picture
from barodex.book.models import ServicePhoto
from barodex.core.quantity.errors import Inconsistent, OutOfRange
from barodex.demo.walk import Outcome, walk
from tests.conftest import new_act


def picture(size=(640, 480), kind="JPEG", **save):
    file = io.BytesIO()
    Image.new("RGB", size, (180, 120, 40)).save(file, kind, **save)
    return file.getvalue()


@pytest.fixture
def service(api, depot, settings, tmp_path):
    settings.VAR = tmp_path
    body = {"vehicle_id": depot.vehicle.pk, "jobs": [{"compartment_id": depot.gearbox.pk, "lubricant_id": depot.light.pk}]}
    return api.technician.post("/api/services", body, expect=201)["id"]


def send(client, service, content, name="p.jpg", step="ready", photo=None, expect=201):
    body = {"file": SimpleUploadedFile(name, content), "photo_id": photo or str(uuid.uuid4()), "step": step}
    response = client.client.post(f"/api/services/{service}/photos", body)
    assert response.status_code == expect, response.content[:400]
    return response.json()


def test_a_photo_is_kept_upright_small_and_without_its_exif(api, service):
    exif = Image.Exif()
    exif[0x0112] = 6  # turned by 90°
    exif[0x010F] = "Maker of the camera"
    view = send(api.technician, service, picture((3000, 2000), exif=exif))
    (shown,) = view["photos"]
    assert (shown["width"], shown["height"]) == (1333, 2000)  # upright, the longer side 2 000
    whole = Image.open(io.BytesIO(b"".join(api.viewer.client.get(shown["url"]).streaming_content)))
    assert whole.size == (1333, 2000)
    assert not whole.getexif()
    response = api.viewer.client.get(shown["small_url"])
    assert response["Content-Type"] == "image/jpeg"
    assert response["X-Content-Type-Options"] == "nosniff"
    assert max(Image.open(io.BytesIO(b"".join(response.streaming_content))).size) == 360


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "WEBP"])
def test_three_kinds_are_read_whatever_their_name(kind):
    assert read_picture(picture(kind=kind)).size == (640, 480)


@pytest.mark.parametrize(
    "content",
    [
        b"<script>alert(1)</script>",
        b"",
        b'<svg xmlns="http://www.w3.org/2000/svg"><script>1</script></svg>',
        b"GIF89a" + b"\0" * 40,
        picture()[:200],
    ],
    ids=["script", "nothing", "svg", "gif", "cut off"],
)
def test_what_is_no_photo_is_refused(content):
    with pytest.raises(Inconsistent, match="no photo that can be read"):
        read_picture(content)


def test_a_colour_profile_is_read_or_passed_over_and_nothing_of_the_file_stays():
    import numpy as np
    from PIL import ImageCms

    plain = read_picture(picture(comment=b"from a camera"))
    assert plain.info == {}
    odd = read_picture(picture(icc_profile=b"no profile at all"))
    assert np.asarray(odd)[0, 0] == pytest.approx(np.asarray(plain)[0, 0], abs=2), "a profile that cannot be read is passed over"
    same = read_picture(picture(icc_profile=ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()))
    assert np.asarray(same)[0, 0] == pytest.approx(np.asarray(plain)[0, 0], abs=2)
    assert same.info == {}


def test_a_bomb_and_a_speck_are_refused():
    with pytest.raises(OutOfRange, match="too many to be a photo"):
        read_picture(picture((12_000, 6_000), "PNG"))
    with pytest.raises(OutOfRange, match="show nothing"):
        read_picture(picture((1, 1), "PNG"))
    with pytest.raises(OutOfRange, match="at most 15 MB"):
        read_picture(b"\0" * (16 * 1024 * 1024))


def test_a_refused_photo_leaves_nothing_behind(api, service, tmp_path):
    problem = send(api.technician, service, b"<script>", expect=422)
    assert problem["errors"][0]["field"] == "file"
    assert not list(tmp_path.rglob("*.jpg"))
    assert ServicePhoto.objects.count() == 0
    assert send(api.technician, service, picture(), step="nowhere", expect=422)["errors"][0]["field"] == "step"
    assert send(api.viewer, service, picture(), expect=403)


def test_pressed_twice_is_one_photo_and_one_is_taken_out_again(api, service):
    name = str(uuid.uuid4())
    send(api.technician, service, picture(), photo=name)
    assert len(send(api.technician, service, picture(), photo=name)["photos"]) == 1
    assert api.technician.call("delete", f"/api/photos/{name}")["photos"] == []
    assert api.viewer.client.get(f"/api/photos/{name}").status_code == 404
    assert ServicePhoto.objects.get().removed_at is not None


def test_photos_of_a_signed_service_stay_and_show_in_the_record(api, depot, service, people):
    step = f"look.{depot.gearbox.pk}"
    send(api.technician, service, picture(), step=step)
    send(api.technician, service, picture(), step="ready")
    walk(people["technician"], service, {"Gearbox": Outcome(1800)})
    record = api.viewer.get(f"/api/book/{depot.gearbox.pk}")["records"][-1]
    assert sorted(p["words"] for p in record["photos"]) == ["Right vehicle: Old 4x4", "read oil and magnet"]
    photo = record["photos"][0]["id"]
    paper = api.viewer.client.get(f"/api/records/{record['id']}/paper").content
    assert paper.count(b"/Subtype /Image") == 2
    assert "its photos stay" in api.technician.call("delete", f"/api/photos/{photo}", expect=409)["detail"]
    assert "closed" in send(api.technician, service, picture(), expect=409)["detail"]
    assert "signed" in api.technician.post(f"/api/services/{service}/acts", new_act("note", "", text="late"), expect=409)["detail"]
