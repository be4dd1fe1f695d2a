from django.apps import AppConfig


class AccountsConfig(AppConfig):
    name = "aestiva.accounts"
    label = "accounts"
