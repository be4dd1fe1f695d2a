"""Who is there: people sign in with their e-mail address."""

from __future__ import annotations

import unicodedata
from typing import Any, ClassVar

from django.contrib.auth import hashers
from django.contrib.auth.models import AbstractBaseUser, BaseUserManager
from django.db import OperationalError, models


class UserManager(BaseUserManager["User"]):
    def create_user(self, email: str, name: str, password: str | None = None, **extra: Any) -> User:
        user = self.model(email=self.normalize_email(email).lower(), name=name, **extra)
        user.set_password(password)
        user.save(using=self._db)
        return user

    def get_by_natural_key(self, username: str | None) -> User:
        return self.get(email=(username or "").lower())


def name_tried(request: Any, credentials: dict[str, Any] | None) -> str:
    """Under which account somebody tries to log in, folded as the look-up folds it: tries are counted by account, not by
    spelling."""
    typed = (credentials or {}).get("username") or (request.POST.get("username", "") if request is not None else "")
    return unicodedata.normalize("NFKC", str(typed)).strip().lower()


class Knocks(models.Model):
    """How often one sender did one thing in an hour."""

    name = models.CharField(max_length=64)
    window = models.IntegerField("hour since 1970")
    count = models.IntegerField(default=0)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["name", "window"], name="one_count_an_hour")]

    def __str__(self) -> str:
        return f"{self.name}: {self.count}"


class User(AbstractBaseUser):
    """A person; what they may do is decided per garden by their membership."""

    email = models.EmailField(unique=True, error_messages={"unique": "There is already an account for this address."})
    name = models.CharField(max_length=80)
    is_active = models.BooleanField(default=True)
    joined = models.DateTimeField(auto_now_add=True)

    USERNAME_FIELD = "email"
    REQUIRED_FIELDS: ClassVar[list[str]] = ["name"]
    objects = UserManager()

    def __str__(self) -> str:
        return self.name

    def check_password(self, raw_password: str) -> bool:
        """Is it theirs?  What is renewed of it on the way waits where nothing can be written."""
        try:
            return super().check_password(raw_password)
        except OperationalError:
            return hashers.check_password(raw_password, self.password)

    def get_full_name(self) -> str:
        return self.name

    def get_short_name(self) -> str:
        return self.name.split(" ")[0]
