from django.contrib.auth import views as auth
from django.urls import path, reverse_lazy

from aestiva.accounts import views

urlpatterns = [
    path("sign-up/", views.sign_up, name="sign_up"),
    path("sign-up/<uidb64>/<token>/", views.confirm, name="sign_up_confirm"),
    path("log-in/", views.LogIn.as_view(), name="login"),
    path("log-out/", auth.LogoutView.as_view(), name="logout"),
    path(
        "password/",
        auth.PasswordChangeView.as_view(
            template_name="accounts/form.html",
            success_url=reverse_lazy("home"),
            extra_context={"title": "Change your password", "verb": "Change password"},
        ),
        name="password_change",
    ),
    path(
        "password/forgotten/",
        views.PasswordReset.as_view(
            template_name="accounts/form.html",
            email_template_name="accounts/reset_mail.txt",
            subject_template_name="accounts/reset_subject.txt",
            success_url=reverse_lazy("password_reset_done"),
            extra_context={"title": "Forgotten your password?", "verb": "Send me a link", "mails": True},
        ),
        name="password_reset",
    ),
    path(
        "password/sent/",
        auth.PasswordResetDoneView.as_view(template_name="accounts/sent.html"),
        name="password_reset_done",
    ),
    path(
        "password/new/<uidb64>/<token>/",
        auth.PasswordResetConfirmView.as_view(
            template_name="accounts/form.html",
            success_url=reverse_lazy("login"),
            extra_context={"title": "Choose a new password", "verb": "Save password"},
        ),
        name="password_reset_confirm",
    ),
]
