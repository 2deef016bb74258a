// @ts-check
/** What a command put in is brought in sight: the row of the timeline on which it lies. */

import { known, model, on } from "./model.js";

on("changed", () => {
  const id = model.state.select?.[0];
  const track = id && known.get(id)?.track;
  if (!track) return;
  document
    .querySelector(`#lanes [data-track="${CSS.escape(track.id)}"]`)
    ?.closest(".tl-row")
    ?.scrollIntoView({ block: "nearest" });
});
