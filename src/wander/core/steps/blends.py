"""What fillets and chamfers have in common as steps: which edges they mean, what is seen meanwhile, and how a refusal is told."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import cache

from wander.core.bodies.blend_runs import blend_run
from wander.core.bodies.blending import Blend, Fades, NotBlended, NothingMeant
from wander.core.bodies.body import Body, Face
from wander.core.bodies.copies import edges_alike, faces_alike
from wander.core.bodies.edge_runs import smooth_run
from wander.core.bodies.kernel import Kernel, KernelFailed
from wander.core.checks.blending import edge_fades, kernel_gave_nothing, no_such_edges, not_blended, nothing_chosen
from wander.core.checks.combining import not_on_all_copies
from wander.core.document.fields import BodyRef
from wander.core.document.findings import Finding
from wander.core.geometry.errors import GeometryError
from wander.core.results.bodies import body_summary
from wander.core.results.summaries import BlendedOut, vector
from wander.core.shaping.edges import Edge
from wander.core.steps.edges_meant import EdgesMeant
from wander.core.steps.inputs import Built, Inputs, StepRefused
from wander.core.steps.seen_as_it_was import as_it_was

Does = Callable[[Kernel], Callable[[Body, Sequence[Blend], str], Body]]
Own = Callable[[Body, Sequence[Blend], str], Body | None]


def nothing_own(body: Body, blends: Sequence[Blend], maker: str) -> None:
    """All of it is for the kernel."""


def edges_of_set(meant: EdgesMeant, body: BodyRef, inputs: Inputs, path: list[str | int]) -> tuple[str, ...]:
    """Names of the edges that are picked, with all that goes on smoothly from them, and of those round faces. Raises StepRefused."""
    base = inputs.exact_body(body)
    known = {edge.name: edge for edge in base.edges}
    edges, faces = _picked(meant, body, inputs, path)
    names, round_ = [edge.name for edge in edges], [face.name for face in faces]
    if meant.copies:
        names += [name for edge in edges for name in edges_alike(base, edge).found]
        round_ += [name for face in faces for name in faces_alike(base, face).found]
    runs = [each for name in names for each in smooth_run(base, known[name])]
    return tuple(
        dict.fromkeys(edge.name for edge in [*runs, *(e for face in round_ for e in base.edges if face in (e.left, e.right))] if not edge.smooth)
    )


def _picked(meant: EdgesMeant, body: BodyRef, inputs: Inputs, path: list[str | int]) -> tuple[list[Edge], list[Face]]:
    mine = {"step": body.step}
    edges = [inputs.edge(ref.model_copy(update=mine), [*path, "edges", number]) for number, ref in enumerate(meant.edges)]
    return edges, [inputs.face(ref.model_copy(update=mine), [*path, "faces", number]) for number, ref in enumerate(meant.faces)]


def _not_on_all(sets: Sequence[EdgesMeant], body: BodyRef, inputs: Inputs) -> list[Finding]:
    """Notes on what is picked and is not there on every copy."""
    base, found = inputs.exact_body(body), []
    for number, each in enumerate(sets):
        if each.copies:
            edges, faces = _picked(each, body, inputs, ["sets", number])
            lacks = max([*(edges_alike(base, edge).without for edge in edges), *(faces_alike(base, face).without for face in faces)], default=0)
            found += [not_on_all_copies(inputs.step, lacks, ["sets", number, "copies"])] if lacks else []
    return found


def _runs(sets: Sequence[EdgesMeant], body: BodyRef, inputs: Inputs, *, by_radius: bool) -> list[BlendedOut]:
    """By which sizes are pulled in the scene: of each set along the first edge that was picked. by_radius: the size is that of a fillet."""
    found = []
    for number, each in enumerate(sets):
        edges, _ = _picked(each, body, inputs, ["sets", number])
        try:
            run = blend_run(inputs.exact_body(body), edges[0], inputs.tolerances) if edges else None
        except GeometryError:
            run = None  # faces that can't be looked at: it goes by its numbers alone
        if run is not None:
            places, inwards = ([vector(each) for each in points] for points in (run.places, run.inwards))
            found.append(BlendedOut(set=number, places=places, inwards=inwards, reach=run.reach.tolist() if by_radius else [1.0] * len(places)))
    return found


def blended(
    body: BodyRef, sets: Sequence[EdgesMeant], blends: Callable[[], list[Blend]], inputs: Inputs, size: str, does: Does, own: Own = nothing_own
) -> Built:
    """The body with its edges blended; where the kernel is not at hand, as it was: its edges are left as they are until then.

    size: the parameter of a set that says how large its blend is. own: what can be done without the kernel, None where it can't. Raises StepRefused,
    NeedsExact.
    """
    base, named, blends = inputs.body(body), inputs.named(body), cache(blends)
    for number, each in enumerate(sets):
        if not each.edges and not each.faces and each.among == "picked":
            raise StepRefused([nothing_chosen(inputs.step, named, ["sets", number, "edges"])])

    def told(built: Built) -> Built:
        if inputs.passing:
            return built  # who pulls at an edge knows from before how it runs
        runs = [] if base.rough is not None else _runs(sets, body, inputs, by_radius=size == "radius")
        return built.saying(blended=runs)

    try:
        # while something is dragged edges stay as they are
        made = None if base.rough is not None or inputs.passing else own(base, blends(), inputs.step.id)
        if made is not None:
            inputs.shaped(made.skins)
            inputs.pause()
            return told(Built(made, body_summary(made, inputs.tolerances), _not_on_all(sets, body, inputs)))
        if inputs.kernel is None:
            return told(as_it_was([base], inputs))
        made = does(inputs.kernel)(base, blends(), inputs.step.id)
    except NothingMeant as error:
        raise StepRefused([no_such_edges(inputs.step, named, sets[error.number].among, ["sets", error.number, "among"])]) from error
    except Fades as error:
        raise StepRefused([edge_fades(inputs.step, named, error)]) from error
    except NotBlended as error:
        raise StepRefused([not_blended(inputs.step, named, error, size)]) from error
    except KernelFailed as error:
        raise StepRefused([kernel_gave_nothing(inputs.step, named, error)]) from error
    return told(Built(made, body_summary(made, inputs.tolerances), _not_on_all(sets, body, inputs)))
