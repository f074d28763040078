import type { Kind } from "../kind";
import { bringIn } from "../part/bringIn";

export const kind: Kind = {
  name: "reference",
  title: "Only to be looked at",
  result: "reference",
  words: (_, status) =>
    status?.summary?.result === "reference" && status.summary.volume === null ? "an open mesh" : "to look at",
  leave: (step) => (step.params["format"] === "step" ? ["file", "format", "unit"] : ["file", "format"]),
  choices: ({ floor }) => [
    {
      verb: "Place",
      title: "Bring in a body to look at",
      alike: "import open insert load STL STEP mesh scan file reference",
      act: () => bringIn(floor, "reference"),
    },
  ],
  without: (step) => [{ do: "set-param", step: step.id, path: ["station"], value: null }],
};
