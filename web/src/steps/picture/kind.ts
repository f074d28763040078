import type { Kind } from "../kind";
import { gives } from "../registry";
import { addPicture } from "./addPicture";

export const kind: Kind = {
  name: "picture",
  title: "Reference picture",
  result: "picture",
  words: () => "",
  choices: ({ floor, document, stands, selected, outline }) => {
    const bare = selected && gives(selected, "station") ? selected.id : undefined;
    const all = [...outline.groups.flatMap((g) => g.stands), ...outline.loose];
    const here = all.find((stand) => stand.section === selected?.id || stand.station === selected?.id);
    const station = bare ?? (here ?? stands.at(-1))?.station;
    return [
      {
        verb: "Place",
        title: "Reference picture on the station",
        apart: true,
        alike: "photo image sketch canvas",
        disabled: station ? undefined : "needs a station",
        act: () => addPicture(floor.cut, document.steps, station ?? ""),
      },
    ];
  },
  leave: () => ["picture"],
};
