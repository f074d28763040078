"""The command line: everything that needs no screen, and the server.

Exit codes: 0 all well, 1 findings that stop the build, 2 input that can't be read.
"""

from __future__ import annotations

from dataclasses import asdict
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import orjson
import typer
from rich.console import Console
from rich.table import Table

if TYPE_CHECKING:
    from wander.core.design.opened import Design
    from wander.core.document.findings import Finding
    from wander.core.results.summaries import SeamOut

app = typer.Typer(no_args_is_help=True, help="Shape freeform bodies from sections, without a screen too.")
console = Console()
errors = Console(stderr=True)

File = Annotated[Path, typer.Argument(help="A design in the open format wander-design/1.")]
AsJson = Annotated[bool, typer.Option("--json", help="Print JSON instead of a table.")]

STOPPED, UNREADABLE = 1, 2


def _say_version(wanted: bool) -> None:
    if wanted:
        from wander import __version__

        typer.echo(f"wander {__version__}")
        raise typer.Exit


@app.callback()
def main(
    version: Annotated[bool, typer.Option("--version", callback=_say_version, is_eager=True, help="Print the version and end.")] = False,
) -> None:
    """Shape freeform bodies from sections, without a screen too."""


def _load(path: Path) -> Design:
    from wander.core.design.errors import UnreadableDocument
    from wander.core.design.opened import open_design

    try:
        return open_design(path)
    except (UnreadableDocument, OSError) as error:
        errors.print(f"{path}: {error}", style="red", markup=False, highlight=False)
        raise typer.Exit(UNREADABLE) from None


def _print_json(value: Any) -> None:
    typer.echo(orjson.dumps(value, option=orjson.OPT_INDENT_2).decode())


@app.command()
def build(file: File, as_json: AsJson = False) -> None:
    """Build every step and say how each stands."""
    design = _load(file)
    document, built, findings = design.document, design.steps, design.findings
    names = {step.id: step.name for step in document.steps}
    if as_json:
        rows = [{"step": b.step, "name": names[b.step], "state": b.state.value, "ms": round(b.ms, 2), "key": b.key} for b in built]
        _print_json({"design": document.name, "steps": rows, "findings": [f.model_dump(mode="json") for f in findings]})
    else:
        table = Table("step", "name", "state", "ms", title=document.name)
        for b in built:
            table.add_row(b.step, names[b.step], b.state.value, f"{b.ms:.1f}")
        console.print(table)
        _print_findings(findings)
    raise typer.Exit(0 if design.builds else STOPPED)


@app.command()
def measure(file: File, as_json: AsJson = False) -> None:
    """Volume, area, centre of mass and box of every body, in millimetres."""
    design = _load(file)
    findings = design.findings
    rows = [{k: v for k, v in asdict(body).items() if k != "faces"} for body in design]
    if as_json:
        _print_json({"design": design.name, "bodies": rows, "findings": [f.model_dump(mode="json") for f in findings]})
    else:
        table = Table("body", "volume cm³", "area cm²", "box mm", "mass g", title=design.name)
        for body in design:
            box = " × ".join(f"{high - low:.2f}" for low, high in zip(body.low, body.high, strict=True))
            table.add_row(body.name, f"{body.volume / 1e3:.3f}", f"{body.area / 1e2:.3f}", box, "" if body.mass is None else f"{body.mass:.1f}")
        console.print(table)
        _print_findings(findings)
    raise typer.Exit(0 if design.builds else STOPPED)


@app.command()
def check(
    file: File,
    as_json: AsJson = False,
    continuity: Annotated[bool, typer.Option("--continuity", help="Say how the faces of every body meet, the worst first.")] = False,
) -> None:
    """Everything worth pointing at, the kernel's opinion of every body included."""
    from wander.core.checks.skins import check_skins
    from wander.core.design.exact import kernel_refused
    from wander.core.solids.errors import KernelError
    from wander.core.solids.measure import kernel_volume
    from wander.core.solids.named import shape_of

    design = _load(file)
    document, findings = design.document, design.findings
    solids = []
    for item in design.standing:
        step = document.step(item.step)
        assert step is not None
        findings += check_skins(item.step, item.body)
        try:
            exact = shape_of(item.body)
            solids.append({"step": item.step, "valid": True, "volume": kernel_volume(exact.shape), "faces": sorted(exact.names)})
        except KernelError as error:
            findings.append(kernel_refused(step, error))
            solids.append({"step": item.step, "valid": False})
    met = _continuity(design) if continuity else None
    if as_json:
        more = {} if met is None else {"continuity": [seam.model_dump(mode="json") for seam in met]}
        _print_json({"design": document.name, "solids": solids, "findings": [f.model_dump(mode="json") for f in findings], **more})
    else:
        for solid in solids:
            console.print(f"{solid['step']}: {'one valid solid' if solid['valid'] else 'no solid'}")
        if met is not None:
            _print_continuity(met)
        _print_findings(findings)
    raise typer.Exit(0 if design.builds else STOPPED)


def _continuity(design: Design) -> list[SeamOut]:
    from wander.core.results.continuity import read_continuity

    return [seam for item in design.standing for seam in read_continuity(item.step, item.body)]


def _print_continuity(met: list[SeamOut]) -> None:
    table = Table("body", "seam", "class", "gap mm", "angle °", "jump %", "worst at")
    for seam in met:
        jump = "" if seam.jump is None else f"{100 * seam.jump:.2f}"
        grade = "apart" if seam.grade is None else f"G{seam.grade}"
        table.add_row(seam.step, seam.name, grade, f"{seam.gap:.4f}", f"{seam.angle:.3f}", jump, ", ".join(f"{x:.2f}" for x in seam.worst))
    console.print(table)


@app.command()
def export(
    file: File,
    to: Annotated[Path, typer.Argument(help="The file to write; its ending says the format: .step, .stl, .glb or .obj.")],
    tolerance: Annotated[float, typer.Option(help="Chord height of meshes in mm.", min=1e-4, max=10.0)] = 0.05,
    around: Annotated[int | None, typer.Option(help="OBJ: so many pieces round each body, whatever the tolerance.", min=1, max=4096)] = None,
    along: Annotated[int | None, typer.Option(help="OBJ: so many pieces along it.", min=1, max=4096)] = None,
    as_json: AsJson = False,
) -> None:
    """Write all bodies of a design to one file."""
    from wander.core.design.bodies import NothingToExport
    from wander.core.design.opened import FORMATS
    from wander.core.solids.errors import KernelError

    if to.suffix.lower() not in FORMATS:
        errors.print(f"{to.name}: expected a file that ends in .step, .stl, .glb or .obj", style="red", markup=False)
        raise typer.Exit(UNREADABLE)
    design = _load(file)
    try:
        size = design.export(to, tolerance, around=around, along=along).stat().st_size
    except (NothingToExport, KernelError) as error:
        errors.print(f"{file}: {error}", style="red", markup=False, highlight=False)
        _print_findings(design.findings)
        raise typer.Exit(STOPPED) from None
    if as_json:
        _print_json({"file": str(to), "bytes": size})
    else:
        console.print(f"{to}: {size / 1024:.1f} kB")
    raise typer.Exit(0 if design.builds else STOPPED)


@app.command()
def schema() -> None:
    """Print the JSON Schema of the open format."""
    from wander.core.design.reading import document_schema

    _print_json(document_schema())


@app.command()
def openapi() -> None:
    """Print the description of the HTTP interface."""
    from wander.app.api.application import create_app
    from wander.app.settings import Settings

    _print_json(create_app(Settings()).openapi())


@app.command()
def serve(
    host: Annotated[str, typer.Option(help="An address that others reach; 0.0.0.0 is all of them. A link with a key is printed.")] = "127.0.0.1",
    port: Annotated[int, typer.Option(min=1, max=65535)] = 8460,
) -> None:
    """Serve the designs of this machine."""
    _serve(host, port, demo=False)


@app.command()
def demo(port: Annotated[int, typer.Option(min=1, max=65535)] = 8460) -> None:
    """Serve with the demo designs on the rack."""
    _serve("127.0.0.1", port, demo=True)


def _serve(host: str, port: int, *, demo: bool) -> None:
    from wander.app.engine.processes import load_early, loading

    load_early()  # before anything else: it goes on beside the server's own start
    with loading():
        from wander.app.serve import run

    run(host, port, demo=demo)


def _print_findings(findings: list[Finding]) -> None:
    style = {"note": "cyan", "warning": "yellow", "error": "red"}
    for finding in findings:
        console.print(f"{finding.severity.value}: {finding.title}", style=style[finding.severity.value], markup=False, highlight=False)
        console.print(f"  {finding.detail}", markup=False, highlight=False)
        for fix in finding.fixes:
            console.print(f"  could help: {fix.label}", markup=False, highlight=False)


if __name__ == "__main__":
    app()
