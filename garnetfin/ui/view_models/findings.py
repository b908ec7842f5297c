"""Findings of what is chosen, as a section of its card."""

from garnetfin.engine.results import Results
from garnetfin.ui.view_models.card import FindingsVM


def findings_section(results: Results, kind: str, ids: tuple[str, ...], link: str = "") -> tuple[FindingsVM, ...]:
    own = tuple(f for f in results.findings if f.kind == kind and f.object_id in ids)
    own = own or tuple(f for f in results.findings if link and f.link == link)[:2]
    if not own:
        return ()
    return (FindingsVM("Finding" if len(own) == 1 else "Findings", f"{len(own)} of {len(results.findings)}", own[:3]),)
