import type { TypedNumber } from "../../sheet/useTyped";
import { apart, type Act, type XY } from "../drawing";
import type { Spot } from "../snap";

type Added = { points: Record<string, XY>; curves: Record<string, unknown>[]; holds: Record<string, unknown>[] };

/** Gathers what is added; picks that lie on something come with the hold that keeps them there. */
export class Adding {
  readonly added: Added = { points: {}, curves: [], holds: [] };
  private count = 0;

  point(spot: Spot): string {
    if (spot.point) return spot.point;
    const name = this.place(spot.at);
    if (spot.middle) this.hold("midpoint", [name, spot.middle]);
    else if (spot.on) this.hold("on-curve", [name, spot.on]);
    if (spot.also) this.hold("on-curve", [name, spot.also]);
    if (spot.fixed) this.hold("fixed", [name]);
    // a number that was typed may have led away from it
    if (spot.passed && apart(spot.passed.at, spot.at) < 1e-6)
      this.added.holds.push({ type: "passes", of: [name], rail: { step: spot.passed.id }, at: spot.passed.at });
    return name;
  }

  place(at: XY): string {
    const name = `$p${++this.count}`;
    this.added.points[name] = at;
    return name;
  }

  curve(fields: Record<string, unknown>): string {
    const id = `$c${++this.count}`;
    this.added.curves.push({ ...fields, id });
    return id;
  }

  /** Lines from point to point, and from the last back to the first. */
  ring(points: readonly string[]): string[] {
    return points.map((start, i) => this.curve({ type: "line", start, end: points[(i + 1) % points.length] ?? start }));
  }

  hold(type: string, of: string[], value?: TypedNumber): void {
    this.added.holds.push(value === undefined ? { type, of } : { type, of, value: value.text });
  }

  /** The same where a number was typed. */
  size(type: string, of: string[], value: TypedNumber | undefined): void {
    if (value !== undefined) this.hold(type, of, value);
  }

  get acts(): Act[] {
    return [{ act: "add", ...this.added } as Act];
  }
}
