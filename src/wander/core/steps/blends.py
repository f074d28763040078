"""What fillets and chamfers have in common as steps: which edges they mean, what is seen meanwhile, and how a refusal is told."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from wander.core.bodies.blending import Blend, Fades, NotBlended, NothingMeant
from wander.core.bodies.body import Body
from wander.core.bodies.edge_runs import smooth_run
from wander.core.bodies.kernel import Kernel, KernelFailed
from wander.core.checks.blending import edge_fades, kernel_gave_nothing, no_such_edges, not_blended, nothing_chosen
from wander.core.document.fields import BodyRef
from wander.core.results.bodies import body_summary
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
    found: dict[str, None] = {}
    for number, ref in enumerate(meant.edges):
        edge = inputs.edge(ref.model_copy(update={"step": body.step}), [*path, "edges", number])
        found |= dict.fromkeys(each.name for each in smooth_run(base, edge) if not each.smooth)
    for number, face_ref in enumerate(meant.faces):
        face = inputs.face(face_ref.model_copy(update={"step": body.step}), [*path, "faces", number])
        found |= dict.fromkeys(edge.name for edge in base.edges if face.name in (edge.left, edge.right) and not edge.smooth)
    return tuple(found)


def blended(
    body: BodyRef, sets: Sequence[EdgesMeant], blends: Callable[[], list[Blend]], inputs: Inputs, size: str, does: Does, own: Own = nothing_own
) -> Built:
    """The body with its edges blended; where the kernel is not at hand, as it was: its edges are left as they are until then.

    size: the parameter of a set that says how large its blend is. own: what can be done without the kernel, None where it can't. Raises StepRefused,
    NeedsExact.
    """
    base, named = inputs.body(body), inputs.named(body)
    for number, each in enumerate(sets):
        if not each.edges and not each.faces and each.among == "picked":
            raise StepRefused([nothing_chosen(inputs.step, named, ["sets", number, "edges"])])
    try:
        # while something is dragged edges stay as they are
        made = None if base.rough is not None or inputs.passing else own(base, blends(), inputs.step.id)
        if made is not None:
            inputs.shaped(made.skins)
            inputs.pause()
            return Built(made, body_summary(made, inputs.tolerances))
        if inputs.kernel is None:
            return as_it_was([base], inputs)
        made = does(inputs.kernel)(base, blends(), inputs.step.id)
    except NothingMeant as error:
        raise StepRefused([no_such_edges(inputs.step, named, sets[error.number].among, ["sets", error.number, "among"])]) from error
    except Fades as error:
        raise StepRefused([edge_fades(inputs.step, named, error)]) from error
    except NotBlended as error:
        raise StepRefused([not_blended(inputs.step, named, error, size)]) from error
    except KernelFailed as error:
        raise StepRefused([kernel_gave_nothing(inputs.step, named, error)]) from error
    return Built(made, body_summary(made, inputs.tolerances))
