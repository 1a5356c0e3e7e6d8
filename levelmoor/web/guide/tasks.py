"""What people come to Help for, as they would ask it; each is answered in a template of its own name."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Task:
    """A question with the place of its answer; `words` are what else people search it by."""

    id: str
    question: str
    words: str = ""

    @property
    def template(self) -> str:
        return f"guide/answers/{self.id.replace('-', '_')}.html"


TASKS = (
    Task("within", "Is this antenna within its claim?", "first verdict start begin"),
    Task("close", "What does “too close to call” mean?", "guard band uncertainty limit"),
    Task("disagree", "My two instruments disagree: which one is right?", "meter analyzer contradiction"),
    Task("first", "How does a whole evaluation go?", "steps order work"),
    Task("claims", "How do I write a claim?", "box specification"),
    Task("verdicts", "What do the verdicts mean?", "pass fail not shown outside"),
    Task("states", "Which sweep decides?", "setup setting round unit"),
    Task("plane", "Where is the reference plane?", "connector shack cable"),
    Task("rules", "How is a verdict decided near the limit?", "guarded simple decision rule"),
    Task("bench", "What must the bench have shown?", "calibration known load proven stated"),
    Task("repeats", "Is a difference real?", "repeats spread compare"),
    Task("readings", "How do I enter readings of a meter?", "slips wattmeter by hand"),
    Task("adjust", "How do I adjust an antenna?", "move cut tap trim dip tone live"),
    Task("tuner", "How do I try a tuner, or match one?", "network dial preset card null"),
    Task("through", "How do I measure a choke, a pad or a filter?", "heat fixture accessories insertion loss"),
    Task("emissions", "How do I measure a radio's emissions?", "harmonics spurs spectrum pad capture"),
    Task("radios", "What can my radio do on this band?", "own bands fold-back"),
    Task("profiles", "Which usability profiles are there?", "radio-safe"),
    Task("on-air", "What are contacts for?", "log adif spots"),
    Task("together", "How do several people work together?", "comments review roles publish withdraw"),
    Task("offline", "What happens without a signal?", "outbox waiting take along telephone"),
    Task("numbers", "How do I write numbers?", "frequency unit decimal"),
    Task("keys", "Which keys are there?", "keyboard shortcuts letters"),
    Task("glossary", "What does a word mean?", "terms"),
    Task("bands", "Which bands are known?", "band plan region"),
)
