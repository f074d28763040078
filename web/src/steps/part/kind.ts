import type { Kind } from "../kind";
import { bringIn } from "./bringIn";

export const kind: Kind = {
  name: "part",
  title: "Part from a file",
  result: "body",
  words: () => "from a file",
  leave: () => ["file", "number"],
  choices: ({ floor }) => [
    {
      verb: "Place",
      title: "Bring in a part",
      apart: true,
      alike: "import open insert load STEP file assembly component foreign",
      act: () => bringIn(floor, "work"),
    },
  ],
  // it stands on the top plane without the station
  without: (step) => [{ do: "set-param", step: step.id, path: ["station"], value: null }],
};
