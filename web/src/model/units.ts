import type { LengthUnit } from "../api/types";

const MM: Record<LengthUnit, number> = { mm: 1, cm: 10, in: 25.4 };
const DECIMALS: Record<LengthUnit, number> = { mm: 2, cm: 3, in: 4 };

/** Millimetres in one unit. */
export const millimetres = (unit: LengthUnit): number => MM[unit];

/** A number with at most so many decimals and no trailing zeros. */
export function trimmed(value: number, decimals: number): string {
  const text = value.toFixed(decimals);
  const short = text.includes(".") ? text.replace(/\.?0+$/, "") : text;
  return short === "-0" ? "0" : short;
}

/** A length in mm as a number in the unit, without the unit's name. */
export const lengthNumber = (mm: number, unit: LengthUnit): string => trimmed(mm / MM[unit], DECIMALS[unit]);

export const length = (mm: number, unit: LengthUnit): string => `${lengthNumber(mm, unit)} ${unit}`;

/** Three lengths as one box. */
export const box = (sides: readonly number[], unit: LengthUnit): string =>
  `${sides.map((side) => trimmed(side / MM[unit], DECIMALS[unit] - 1)).join(" × ")} ${unit}`;

const LARGE = 1e8;

/** A volume in mm3: cubic centimetres, litres from a hundred of them on, or cubic inches where lengths are in inches. like: as this one is told. */
export function volume(mm3: number, unit: LengthUnit, like = mm3): { value: string; unit: string } {
  if (unit === "in") return { value: (mm3 / MM.in ** 3).toFixed(3), unit: "in³" };
  return Math.abs(like) < LARGE
    ? { value: (mm3 / 1000).toFixed(2), unit: "cm³" }
    : { value: (mm3 / 1e6).toFixed(2), unit: "l" };
}

/** An area in mm2, in cm2 or in2. */
export function area(mm2: number, unit: LengthUnit): { value: string; unit: string } {
  return unit === "in"
    ? { value: (mm2 / MM.in ** 2).toFixed(3), unit: "in²" }
    : { value: (mm2 / 100).toFixed(2), unit: "cm²" };
}

/** How much a body is, with the word for it: what it holds, or of a sheet its area. */
export function amount(body: { volume: number; area: number; closed?: boolean }, unit: LengthUnit): string[] {
  const closed = body.closed ?? true;
  const { value, unit: of } = closed ? volume(body.volume, unit) : area(body.area, unit);
  return [closed ? "Volume" : "Area of the sheet", `${value} ${of}`];
}

/** A step for arrow keys and a grid for drags, in mm, that is a round number in the unit. */
export const roundStep = (unit: LengthUnit): number => ({ mm: 0.5, cm: 0.5, in: 25.4 / 32 })[unit];

export const clock = (seconds: number): string =>
  new Date(seconds * 1000).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit", hour12: false });
