"""Many hands: invitations, roles, handing over, leaving, units of one's own, ending an account."""

from __future__ import annotations

from datetime import timedelta

from django.test import Client

from aestiva.accounts.models import User
from aestiva.frame.tests.garden import GardenCase, user
from aestiva.gardens import clock
from aestiva.gardens.models import Garden, Invitation, JournalEntry, Member
from aestiva.season.models import Planting


def client_of(who: User) -> Client:
    client = Client()
    client.force_login(who, backend="django.contrib.auth.backends.ModelBackend")
    return client


class People(GardenCase):
    def lay_out(self) -> None:
        super().lay_out()
        self.moss = user("moss")

    def invite(self, role: str = "grower") -> Invitation:
        self.post("members/", what="invite", role=role)
        return Invitation.objects.latest("pk")

    def role(self, who: User) -> str:
        found = Member.objects.filter(garden=self.garden, user=who).first()
        return found.role if found else ""

    def test_a_link_lets_one_person_in_once(self) -> None:
        link = self.invite()
        page = client_of(self.moss).get(f"/join/{link.token}/")
        self.assertContains(page, "invites you to Test Row")
        self.assertEqual(self.role(self.moss), "")
        client_of(self.moss).post(f"/join/{link.token}/")
        self.assertEqual(self.role(self.moss), "grower")
        noted = JournalEntry.objects.filter(garden=self.garden).first()
        assert noted is not None
        self.assertEqual((noted.by, noted.summary, noted.can_be_taken_back), ("Moss", "Joined as grower", False))
        self.post(f"journal/{noted.pk}/undo/")
        self.assertEqual(self.role(self.moss), "grower")
        again = client_of(user("tarn")).post(f"/join/{link.token}/")
        self.assertContains(again, "used already", status_code=410)
        self.assertContains(Client().get(f"/join/{link.token}/"), "used already", status_code=410)

    def test_expired_revoked_unknown_and_own(self) -> None:
        expired, revoked = self.invite(), self.invite()
        Invitation.objects.filter(pk=expired.pk).update(expires=clock.instant() - timedelta(days=1))
        self.post("members/", what="revoke", sure="yes", invitation=revoked.pk)
        for token, said in (
            (expired.token, "expired on"),
            (revoked.token, "was revoked"),
            ("nonsense", "no such invitation"),
        ):
            answer = client_of(self.moss).post(f"/join/{token}/")
            self.assertContains(answer, said, status_code=410)
        self.assertRedirects(self.client.get(f"/join/{self.invite().token}/"), self.url("today/"))
        self.assertEqual(self.role(self.moss), "")

    def test_only_owners_change_members_and_one_always_stays(self) -> None:
        client_of(self.moss).post(f"/join/{self.invite().token}/")
        theirs = Member.objects.get(garden=self.garden, user=self.moss)
        mine = Member.objects.get(garden=self.garden, user=self.owner)
        for data in (
            {"what": "invite", "role": "owner"},
            {"what": "role", "member": theirs.pk, "role": "owner"},
            {"what": "remove", "sure": "yes", "member": mine.pk},
        ):
            client_of(self.moss).post(self.url("members/"), data)
        self.assertEqual((self.role(self.moss), self.role(self.owner)), ("grower", "owner"))
        for data in (
            {"what": "role", "member": mine.pk, "role": "reader"},
            {"what": "remove", "sure": "yes", "member": mine.pk},
        ):
            self.post("members/", **data)
        self.post("members/leave/", sure="yes")
        self.assertEqual(self.role(self.owner), "owner")
        self.post("members/", what="role", member=theirs.pk, role="owner")
        self.post("members/leave/", sure="yes")
        self.assertEqual((self.role(self.owner), self.role(self.moss)), ("", "owner"))

    def test_a_reader_may_leave_and_choose_units(self) -> None:
        client_of(self.moss).post(f"/join/{self.invite('reader').token}/")
        reader = client_of(self.moss)
        reader.post(self.url("members/"), {"what": "units", "units": "us"})
        self.assertContains(reader.get(self.url("crops/tomato/")), "55 °F")
        self.assertContains(self.client.get(self.url("crops/tomato/")), "13 °C")
        reader.post(self.url("members/leave/"), {"sure": "yes"})
        self.assertEqual(self.role(self.moss), "")

    def test_another_gardens_members_are_out_of_reach(self) -> None:
        from aestiva.frame.tests.garden import garden

        other = garden(self.moss, name="Elsewhere")
        theirs = Member.objects.get(garden=other)
        self.assertEqual(self.post("members/", what="remove", sure="yes", member=theirs.pk).status_code, 404)
        self.assertTrue(Member.objects.filter(pk=theirs.pk).exists())

    def test_ending_an_account_takes_only_its_own_gardens(self) -> None:
        self.sown("tomato", 10)
        client_of(self.moss).post(f"/join/{self.invite().token}/")
        self.assertContains(self.client.post("/account/delete/", {"password": "a long pass phrase"}), "only owner of")
        Member.objects.filter(user=self.moss).update(role="owner")
        self.assertContains(
            self.client.post("/account/delete/", {"password": "wrong"}), "not your password", status_code=422
        )
        self.client.post("/account/delete/", {"password": "a long pass phrase"})
        self.assertFalse(User.objects.filter(pk=self.owner.pk).exists())
        self.assertTrue(Garden.objects.filter(pk=self.garden.pk).exists())
        left = JournalEntry.objects.filter(garden=self.garden)
        self.assertFalse(left.filter(by__contains="Wren").exists() or left.filter(summary__contains="Wren").exists())
        self.assertTrue(left.filter(by="a former member", user=None).exists())
        last = client_of(self.moss)
        self.assertContains(last.get("/account/delete/"), "download the whole garden")
        last.post("/account/delete/", {"password": "a long pass phrase"})
        self.assertFalse(Garden.objects.filter(pk=self.garden.pk).exists() or Planting.objects.exists())

    def test_gardens_are_switched_and_brought_to_life(self) -> None:
        self.assertContains(self.client.get("/gardens/"), "Test Row")
        self.assertContains(self.client.get(self.url("today/")), "stands still on")
        self.post("live/")
        self.garden.refresh_from_db()
        self.assertIsNone(self.garden.simulated_on)
