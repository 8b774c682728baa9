"""People who sign in."""

from typing import Any, ClassVar

from django.contrib.auth.base_user import AbstractBaseUser, BaseUserManager
from django.db import models
from django.db.models.functions import Lower


class UserManager(BaseUserManager["User"]):
    def create_user(self, email: str, name: str, password: str | None = None) -> "User":
        """A new user; without a password nobody can sign in by one."""
        user = self.model(email=self.normalize_email(email).lower(), name=name)
        user.set_password(password)
        user.save(using=self._db)
        return user


class User(AbstractBaseUser):
    """A person, known by e-mail address, with the way he likes figures and screens."""

    class Units(models.TextChoices):
        METRIC = "metric"
        US = "us"

    class Theme(models.TextChoices):
        SYSTEM = "system"
        LIGHT = "light"
        DARK = "dark"

    email = models.EmailField(unique=True)
    name = models.CharField(max_length=120)
    is_active = models.BooleanField(default=True)
    units = models.CharField(max_length=8, choices=Units, default=Units.METRIC)
    theme = models.CharField(max_length=8, choices=Theme, default=Theme.SYSTEM)

    objects: ClassVar[UserManager] = UserManager()

    USERNAME_FIELD = "email"
    REQUIRED_FIELDS: ClassVar[list[str]] = ["name"]

    class Meta:
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(Lower("email"), name="user_email_once"),
            models.CheckConstraint(
                condition=models.Q(units__in=["metric", "us"]), name="user_units_known"
            ),
        ]

    def __str__(self) -> str:
        return self.name


class Invitation(models.Model):
    """A link by which a person who has never signed in chooses a password, kept as a hash."""

    user = models.OneToOneField(User, on_delete=models.CASCADE, related_name="invitation")
    token_sha256 = models.CharField(max_length=64, unique=True)
    made_at = models.DateTimeField()

    def __str__(self) -> str:
        return f"{self.user}, {self.made_at:%Y-%m-%d}"


class SignInTries(models.Model):
    """Wrong passwords in a row by one person's name, from one address, or on one device."""

    key = models.CharField(max_length=60, primary_key=True)
    failures = models.PositiveIntegerField()
    last_at = models.DateTimeField()

    def __str__(self) -> str:
        return f"{self.key}: {self.failures}"
