"""One made thing as a job, and a job's one made thing, for tests of either."""

from __future__ import annotations

from jadeite.core.pipeline import JobWork, Work
from jadeite.core.project import Project, Task, changed, task_of, with_task

__all__ = ["job_of", "only", "project_of"]


def only(project: Project) -> Task:
    """The task of the first item of a job that holds no other."""
    return task_of(project, project.names[0], {})


def project_of(task: Task, title: str = "Eyepiece box") -> Project:
    """A document of one item."""
    return with_task(changed(Project(), title=title), "box", task)


def job_of(work: Work, title: str = "Eyepiece box") -> JobWork:
    """A job of one item that is worked up."""
    return JobWork(project_of(work.task, title), {"box": work})
