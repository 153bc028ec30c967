"""The API: one router per stage of the work. Every path but signing in needs an account."""

from ninja import NinjaAPI
from ninja.security import django_auth

from rogatum.web import errors
from rogatum.web.accounts.api import router as accounts
from rogatum.web.courses.api import router as courses
from rogatum.web.handoffs.api import router as handoffs
from rogatum.web.jobs.api import router as jobs
from rogatum.web.keeping.api import router as keeping
from rogatum.web.pools.alike_api import router as alike
from rogatum.web.pools.api import router as pools
from rogatum.web.pools.drafts_api import router as drafts
from rogatum.web.pools.many_api import router as many
from rogatum.web.pools.sorting_api import router as sorting
from rogatum.web.quizzes.api import router as quizzes
from rogatum.web.quizzes.plan_api import router as plans
from rogatum.web.quizzes.try_api import router as trials
from rogatum.web.receivers.api import router as receivers
from rogatum.web.sharing.api import router as sharing
from rogatum.web.sources.api import router as sources
from rogatum.web.sources.reading_api import router as readings
from rogatum.web.undoing.api import router as undoing
from rogatum.web.vocabulary import router as vocabulary

api = NinjaAPI(title="Rogatum", version="1", auth=django_auth, docs_url=None, urls_namespace="api")
errors.install(api)
api.add_exception_handler(Exception, errors.unexpected)
api.add_router("", accounts, tags=["accounts"])
api.add_router("", courses, tags=["courses"])
api.add_router("", undoing, tags=["undo"])
api.add_router("", sources, tags=["sources"])
api.add_router("", readings, tags=["readings"])
api.add_router("", pools, tags=["pools"])
api.add_router("", many, tags=["items"])
api.add_router("", sorting, tags=["sorting"])
api.add_router("", alike, tags=["alike"])
api.add_router("", drafts, tags=["drafts"])
api.add_router("", quizzes, tags=["quizzes"])
api.add_router("", plans, tags=["quizzes"])
api.add_router("", trials, tags=["quizzes"])
api.add_router("", receivers, tags=["receivers"])
api.add_router("", handoffs, tags=["handoffs"])
api.add_router("", sharing, tags=["sharing"])
api.add_router("", keeping, tags=["courses"])
api.add_router("", jobs, tags=["jobs"])
api.add_router("", vocabulary, tags=["words"])
