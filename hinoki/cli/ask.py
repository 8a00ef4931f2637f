"""`hinoki ask`: whatever the application can be asked about a model, made from the declarations in `hinoki.operations`."""

import argparse
import json
from pathlib import Path

from pydantic import ValidationError

from hinoki.cli.shared.answered import answered
from hinoki.cli.shared.arguments import add_bed, add_model, add_stance, plan_for, read_model
from hinoki.cli.shared.folder_workspace import FolderWorkspace
from hinoki.cli.shared.output import add_output, output_of
from hinoki.cli.shared.progress_bar import ProgressBar
from hinoki.cli.shared.request_arguments import add_request, request_of
from hinoki.core.errors import BadPlan, explain
from hinoki.operations.registry import find, operations


def declare(parser: argparse.ArgumentParser) -> None:
    """Add a command for every operation, with what its request holds."""
    commands = parser.add_subparsers(required=True, metavar="OPERATION", dest="operation")
    for name, own in sorted(operations().items()):
        command = commands.add_parser(name, help=own.summary, description=own.summary)
        add_model(command)
        add_bed(command)
        command.add_argument("--plan", type=Path, help="the plan it is asked about; without one an empty plan for the bed")
        add_stance(command)
        command.add_argument("--out", type=Path, metavar="DIR", help="a folder for its files: what is drawn, made or edited")
        add_output(command, "the result")
        add_request(command, own.request)
    parser.set_defaults(run=_ask, hollow=None, least_wall=None)


def _ask(options: argparse.Namespace) -> int:
    own = find(options.operation)
    data, bar, output = read_model(options.model), ProgressBar(options.quiet), output_of(options)
    plan = plan_for(options, data)
    try:
        request = request_of(options, own.request)
    except ValidationError as error:
        raise BadPlan(*explain(error)) from error
    workspace = FolderWorkspace(data, options.out)
    try:
        result = answered(own, request, plan, workspace, bar.show, options.model.stem)
    finally:
        bar.end()
    content = result.model_dump(mode="json", by_alias=True)
    output.document(content)
    output.say(json.dumps(content, indent=2, ensure_ascii=False))
    for path in workspace.written:
        output.note(f"{path} was written")
    return 0
