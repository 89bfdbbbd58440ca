"""No place is told where none is to be told, and no old pixels are carried along."""

from __future__ import annotations

import base64
import struct

import pyexiv2
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from tests.conftest import docket_of
from zinc_margin.handoff.make import make_file
from zinc_margin.handoff.places import old_pixels, place_keys
from zinc_margin.photo.pixels import read_photo
from zinc_margin.plan.build import plan

PACKET = """<?xpacket begin="" id="W5M0MpCehiHzreSzNTczkc9d"?>
<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">
<rdf:Description rdf:about="" xmlns:dc="http://purl.org/dc/elements/1.1/"
 xmlns:drone-dji="http://www.dji.com/drone-dji/1.0/" xmlns:geo="http://www.w3.org/2003/01/geo/wgs84_pos#"
 xmlns:tree="https://kiln.example/tree/1.0/" xmlns:mwg-kw="http://www.metadataworkinggroup.com/schemas/keywords/"
 xmlns:xmp="http://ns.adobe.com/xap/1.0/" xmlns:xmpGImg="http://ns.adobe.com/xap/1.0/g/img/"
 xmlns:Iptc4xmpCore="http://iptc.org/std/Iptc4xmpCore/1.0/xmlns/" xmlns:photoshop="http://ns.adobe.com/photoshop/1.0/"
 xmlns:Iptc4xmpExt="http://iptc.org/std/Iptc4xmpExt/2008-02-29/" xmlns:xmpRights="http://ns.adobe.com/xap/1.0/rights/"
 drone-dji:GpsLatitude="51.512345" drone-dji:Latitude="51.512345" drone-dji:RelativeAltitude="+30"
 geo:lat="51.512345" geo:long="-1.512345" photoshop:City="Rivermouth" photoshop:State="Kilnshire"
 photoshop:Country="Tideland" Iptc4xmpCore:Location="Old quay" Iptc4xmpCore:CountryCode="TL"
 xmpRights:WebStatement="https://kiln.example/rights">
<dc:coverage>Old quay</dc:coverage>
<dc:title><rdf:Alt><rdf:li xml:lang="x-default">Stacked bowls</rdf:li></rdf:Alt></dc:title>
<dc:subject><rdf:Bag><rdf:li>kiln</rdf:li><rdf:li>Rivermouth</rdf:li><rdf:li>Quayside</rdf:li></rdf:Bag></dc:subject>
<tree:hierarchicalSubject><rdf:Bag><rdf:li>Places|Tideland|Rivermouth</rdf:li><rdf:li>Craft|Kiln</rdf:li></rdf:Bag></tree:hierarchicalSubject>
<tree:TagsList><rdf:Seq><rdf:li>Orte/Tideland/Rivermouth</rdf:li><rdf:li>Craft/Kiln</rdf:li></rdf:Seq></tree:TagsList>
<mwg-kw:Keywords rdf:parseType="Resource"><mwg-kw:Hierarchy><rdf:Bag>
<rdf:li rdf:parseType="Resource"><mwg-kw:Keyword>Places</mwg-kw:Keyword><mwg-kw:Children><rdf:Bag>
<rdf:li rdf:parseType="Resource"><mwg-kw:Keyword>Quayside</mwg-kw:Keyword></rdf:li></rdf:Bag></mwg-kw:Children></rdf:li>
<rdf:li rdf:parseType="Resource"><mwg-kw:Keyword>Craft</mwg-kw:Keyword></rdf:li></rdf:Bag></mwg-kw:Hierarchy></mwg-kw:Keywords>
<Iptc4xmpExt:LocationCreated><rdf:Bag><rdf:li rdf:parseType="Resource"><Iptc4xmpExt:City>Rivermouth</Iptc4xmpExt:City></rdf:li></rdf:Bag></Iptc4xmpExt:LocationCreated>
<xmp:Thumbnails><rdf:Alt><rdf:li rdf:parseType="Resource"><xmpGImg:format>JPEG</xmpGImg:format><xmpGImg:image>OLDPIXELS</xmpGImg:image></rdf:li></rdf:Alt></xmp:Thumbnails>
</rdf:Description></rdf:RDF></x:xmpmeta><?xpacket end="w"?>"""

TOLD = (
    b"51.5123",
    b"1.512345",
    b"Rivermouth",
    b"Kilnshire",
    b"Tideland",
    b"Old quay",
    b"Quayside",
    b"+30",
)


@pytest.fixture
def told(jpeg):
    """A photo that tells where it was taken in every way."""
    with pyexiv2.Image(str(jpeg)) as image:
        image.modify_raw_xmp(PACKET.replace("OLDPIXELS", base64.b64encode(b"old pixels").decode()))
        image.modify_exif(
            {
                "Exif.Image.Artist": "Kiln keeper",
                "Exif.Image.XPKeywords": "kiln;Rivermouth",
                "Exif.GPSInfo.GPSLatitude": "51/1 30/1 0/1",
                "Exif.GPSInfo.GPSMapDatum": "Tideland",
                "Exif.GPSInfo.GPSAreaInformation": "Rivermouth",
            }
        )
        image.modify_iptc(
            {
                "Iptc.Application2.City": "Rivermouth",
                "Iptc.Application2.SubLocation": "Old quay",
                "Iptc.Application2.ProvinceState": "Kilnshire",
                "Iptc.Application2.LocationName": ["Old quay"],
                "Iptc.Application2.CountryName": "Tideland",
                "Iptc.Application2.Caption": "Bowls",
                "Iptc.Application2.Keywords": ["kiln", "Rivermouth", "Quayside"],
            }
        )
    return jpeg


def with_field(photo, code: int, kind: int, data: bytes):
    """Replace a photo's EXIF by one field of this type, as other programs write it."""
    head = b"Exif\0\0II*\0\x08\0\0\0\x01\0"
    entry = struct.pack("<HHII", code, kind, len(data), 26)
    block = head + entry + bytes(4) + data
    with Image.open(photo) as image:
        image.save(photo, quality=90, exif=block)


@pytest.mark.parametrize("kind", [1, 7])  # bytes, and bytes of no type
def test_keywords_in_bytes_are_read_as_words(told, tmp_path, kind):
    raw = PACKET.replace("OLDPIXELS", "")
    with_field(told, 0x9C9E, kind, "kiln;Rivermouth\0".encode("utf-16-le"))
    with pyexiv2.Image(str(told)) as image:
        image.modify_raw_xmp(raw)
    photo = read_photo(told)
    docket = docket_of("6x4cm", file={"format": "jpeg", "places": False})
    made = make_file(photo, plan(photo.facts, docket), tmp_path / "out.jpg")
    data = made.path.read_bytes()
    assert "Rivermouth".encode("utf-16-le") not in data
    with pyexiv2.Image(str(made.path)) as image:
        assert image.read_exif()["Exif.Image.XPKeywords"].strip("\0") == "kiln"


@pytest.mark.parametrize("ending", ["jpeg", "tiff", "png", "webp", "jxl"])
def test_no_place_is_told_in_any_format(told, tmp_path, ending):
    photo = read_photo(told)
    for places in (True, False):
        docket = docket_of("6x4cm", file={"format": ending, "places": places})
        out = tmp_path / f"out-{places}"
        make_file(photo, plan(photo.facts, docket), out)
        data = out.read_bytes()
        as_utf16 = [word.decode().encode("utf-16-le") for word in TOLD]
        found = [word for word in (*TOLD, *as_utf16) if word in data]
        assert bool(found) == places, found
        for kept in (b"Stacked bowls", b"Kiln keeper", b"kiln.example/rights", b"Craft|Kiln"):
            assert kept in data, kept
        # thumbnails go always: they show what was there before
        assert base64.b64encode(b"old pixels") not in data and b"xmpGImg:image" not in data


def test_keywords_that_hang_on_no_place_stay(told, tmp_path):
    photo = read_photo(told)
    out = tmp_path / "out.jpg"
    docket = docket_of("6x4cm", file={"format": "jpeg", "places": False})
    make_file(photo, plan(photo.facts, docket), out)
    with pyexiv2.Image(str(out)) as image:
        xmp, iptc, exif = image.read_xmp(), image.read_iptc(), image.read_exif()
    assert xmp["Xmp.dc.subject"] == ["kiln"] and iptc["Iptc.Application2.Keywords"] == ["kiln"]
    assert xmp["Xmp.tree.hierarchicalSubject"] == ["Craft|Kiln"]
    assert exif["Exif.Image.XPKeywords"].strip("\0") == "kiln"
    assert iptc["Iptc.Application2.Caption"] == "Bowls"


def test_what_cannot_be_taken_out_of_the_rest_takes_the_rest_with_it(told, tmp_path, monkeypatch):
    """Exiv2 keeps the old packet, and says nothing, where it cannot write a new one."""
    monkeypatch.setattr("zinc_margin.handoff.places._with_their_kin", lambda gone, xmp: {})
    photo = read_photo(told)
    for form in ("jpeg", "tiff"):
        out = tmp_path / "out"
        docket = docket_of("6x4cm", file={"format": form, "places": False})
        make_file(photo, plan(photo.facts, docket), out, overwrite=True)
        data = out.read_bytes()
        assert not [word for word in TOLD if word in data]
        with pyexiv2.Image(str(out)) as image:
            assert image.read_exif()["Exif.Image.Software"].startswith("Zinc Margin")


@pytest.mark.parametrize(
    ("key", "tells"),
    [
        ("Xmp.drone-dji.FlightYawDegree", True),
        ("Xmp.geo.lat", True),
        ("Xmp.anything.MAPLatitude", True),
        ("Xmp.exif.GPSAltitude", True),
        ("Xmp.Camera.GPSXYAccuracy", True),
        ("Xmp.photoshop.City", True),
        ("Xmp.iptcExt.LocationShown[1]/Iptc4xmpExt:City", True),
        ("Exif.Panasonic.City", True),
        ("Exif.Photo.MakerNote", True),
        ("Exif.Image.GPSTag", True),
        ("Xmp.xmpRights.WebStatement", False),
        ("Xmp.photoshop.Credit", False),
        ("Xmp.iptc.CreatorContactInfo/Iptc4xmpCore:CiAdrCity", False),
        ("Exif.Photo.ExposureTime", False),
        ("Xmp.xmp.Rating", False),
        ("Xmp.dc.title", False),
        ("Iptc.Application2.CountryCode", True),
        ("Iptc.Application2.Byline", False),
    ],
)
def test_a_place_is_known_by_its_name_whoever_wrote_it(key, tells):
    held = {key: "x"}
    family = key.split(".")[0]
    gone = place_keys(
        held if family == "Exif" else {},
        held if family == "Iptc" else {},
        held if family == "Xmp" else {},
    )
    assert (key in gone) == tells


VALUES = st.one_of(
    st.text(max_size=20),
    st.lists(st.text(max_size=12), max_size=4),
    st.dictionaries(st.text(max_size=4), st.text(max_size=12), max_size=2),
)


@given(
    st.dictionaries(st.text(max_size=20).map("Xmp.".__add__), VALUES, max_size=8),
    st.dictionaries(st.text(max_size=20).map("Exif.a.".__add__), VALUES, max_size=8),
)
def test_any_metadata_is_looked_through(xmp, exif):
    gone = place_keys(exif, {}, xmp)
    assert set(gone) <= {*xmp, *exif} and set(old_pixels(xmp)) <= set(xmp)
    again = {
        key: gone.get(key, value) for key, value in xmp.items() if gone.get(key, "") is not None
    }
    assert not {key for key in place_keys({}, {}, again) if key not in exif} - {
        key for key in again if isinstance(again[key], dict)
    }
