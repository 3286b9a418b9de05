"""Whole jobs through their files: every joint comes out with the clearance of its fit class."""

import pytest

from anzel.app.edits import project_edits
from anzel.app.practice_loop import job_handed_over
from anzel.cutjob.job_settings import JobSettings, LabelStyle
from anzel.materials.fits import KerfAt
from anzel.project.demos import DEMOS

JOBS = [
    (KerfAt.DRAWING, JobSettings(labels=LabelStyle.ENGRAVE, bridges=2)),
    (KerfAt.PATH, JobSettings()),
    (KerfAt.CUTTER, JobSettings()),
]


@pytest.mark.slow
@pytest.mark.parametrize("demo", DEMOS, ids=lambda demo: demo.name)
@pytest.mark.parametrize(("kerf_at", "job"), JOBS)
def test_every_joint_comes_out_as_wanted_whoever_minds_the_kerf(demo, kerf_at, job):
    project = project_edits.take_kerf_at(demo.make(), kerf_at).with_changes(job=job)
    _, outcome = job_handed_over(project, "")
    assert bool(outcome.rows) == (demo.name != "seed-caddy")  # found drawings declare no joints
    for row in outcome.rows:
        assert row.clearance == pytest.approx(project.fits.clearance, abs=0.01), row.label
