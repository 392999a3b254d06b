import type { Schemas } from '../../../app/api';
import { share } from '../../../app/typed';
import { blank, type CompartmentDraft } from '../board/CompartmentLine';

export type Request = Schemas['VehicleRequestRequest'];

export type Pick2<T, K extends keyof T> = { [P in K]: NonNullable<T[P]> };

export type Draft = Pick2<Request, 'name' | 'kind' | 'layout' | 'meter'> & {
  meter_value: string;
  plate: string;
  note: string;
  off_road: string;
  compartments: CompartmentDraft[];
};

export const KEPT = 'barodex.new-vehicle';

/** The first compartment's key is always the same: by the same beginning what was typed before a reload is found again. */
export const FRESH: Draft = {
  name: '',
  plate: '',
  note: '',
  kind: 'car',
  layout: 'front-wheel',
  meter: 'km',
  off_road: '0',
  meter_value: '',
  compartments: [{ ...blank(), key: 'first' }],
};

export function requestOf({ off_road, compartments, ...rest }: Draft): Request {
  const places = compartments.map((c) => ({ name: c.name, slot: c.slot, sheet_id: Number(c.sheet_id) }));
  return { ...rest, off_road_share: share(off_road) ?? 0, compartments: places };
}

/** The draft with a sheet that was just written, in the first compartment that has none; once, also when the page is loaded anew. */
export function withSheet(draft: Draft, sheet: number | undefined): Draft {
  const open = draft.compartments.findIndex((c) => !c.sheet_id);
  if (!sheet || open < 0 || draft.compartments.some((c) => c.sheet_id === String(sheet))) return draft;
  return { ...draft, compartments: draft.compartments.map((c, k) => (k === open ? { ...c, sheet_id: String(sheet) } : c)) };
}
