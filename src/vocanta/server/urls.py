"""Addresses."""

from django.urls import path, re_path
from drf_spectacular.views import SpectacularAPIView

from . import finding_views, views

urlpatterns = [
    path("api/schema", SpectacularAPIView.as_view()),
    path("api/file-schema", views.FileSchema.as_view()),
    path("api/words", views.Words.as_view()),
    path("api/starters", views.Starters.as_view()),
    path("api/jobs/<str:name>", views.JobOne.as_view()),
    path("api/projects", views.ProjectList.as_view()),
    path("api/projects/file", views.ProjectFileIn.as_view()),
    path("api/projects/<int:project>", views.ProjectOne.as_view()),
    path("api/projects/<int:project>/back", views.ProjectBack.as_view()),
    path("api/projects/<int:project>/copy", views.ProjectCopy.as_view()),
    path("api/projects/<int:project>/file", views.ProjectFileOut.as_view()),
    path("api/projects/<int:project>/package", views.ProjectPackage.as_view()),
    path("api/projects/<int:project>/assets/<str:name>", views.AssetOne.as_view()),
    path("api/projects/<int:project>/edits", views.Edits.as_view()),
    path("api/projects/<int:project>/events", views.Events.as_view()),
    path("api/projects/<int:project>/records", views.Records.as_view()),
    path("api/projects/<int:project>/undo", views.Undo.as_view()),
    path("api/projects/<int:project>/edits/<int:number>/undo", views.UndoOne.as_view()),
    path("api/projects/<int:project>/duplicate", views.Duplicate.as_view()),
    path("api/projects/<int:project>/records/<int:record>/file", views.RecordFile.as_view()),
    path("api/projects/<int:project>/sounds/<int:record>/placeholder", views.SoundMade.as_view()),
    path("api/projects/<int:project>/findings", finding_views.FindingList.as_view()),
    path("api/projects/<int:project>/findings/marks", finding_views.MarkList.as_view()),
    path("api/projects/<int:project>/findings/one/<slug:key>", finding_views.FindingOne.as_view()),
    path("api/projects/<int:project>/findings/mends/<slug:check>", finding_views.MendTogether.as_view()),
    path("api/projects/<int:project>/records/<int:record>/findings", finding_views.RecordFindings.as_view()),
    path("api/projects/<int:project>/levels/<slug:level>", views.LevelOne.as_view()),
    path("api/projects/<int:project>/levels/<slug:level>/measure", views.Measure.as_view()),
    path("api/projects/<int:project>/redo", views.Redo.as_view()),
    path("api/projects/<int:project>/place", views.Place.as_view()),
    path("api/projects/<int:project>/offers", views.Offers.as_view()),
    path("api/projects/<int:project>/records/<int:record>", views.RecordOne.as_view()),
    path("api/projects/<int:project>/records/<int:record>/page", views.Page.as_view()),
    path("api/projects/<int:project>/records/<int:record>/running", views.Running.as_view()),
    path("api/projects/<int:project>/records/<int:record>/uses", views.Uses.as_view()),
    path("api/projects/<int:project>/stages/<slug:quest>/<slug:stage>", views.StagePage.as_view()),
    path("api/projects/<int:project>/quests/<slug:quest>", views.QuestPage.as_view()),
    path("api/projects/<int:project>/threads", views.Threads.as_view()),
    path("api/projects/<int:project>/supply", views.SupplyList.as_view()),
    path("api/projects/<int:project>/tracked", views.TrackedList.as_view()),
    path("api/projects/<int:project>/balance", views.BalanceList.as_view()),
    path("api/projects/<int:project>/live", views.Live.as_view()),
    path("api/projects/<int:project>/cards", views.Cards.as_view()),
    path("api/projects/<int:project>/cards/point", views.PointCard.as_view()),
    path("api/projects/<int:project>/complete", views.Complete.as_view()),
    path("api/projects/<int:project>/options", views.Options.as_view()),
    path("api/rearrange", views.Rearrange.as_view()),
    re_path(r"^(?!api/|static/|ws/).*$", views.front_page),
]
handler400 = "vocanta.server.manners.senseless"
handler404 = "vocanta.server.manners.no_such_place"
handler500 = "vocanta.server.manners.fault"
