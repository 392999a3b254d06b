import type { Schemas } from '../../../app/api';
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

export const fresh = (): Draft => ({
  name: '',
  plate: '',
  note: '',
  kind: 'car',
  layout: 'front-wheel',
  meter: 'km',
  off_road: '0',
  meter_value: '',
  compartments: [blank()],
});

export function kept(): Draft {
  try {
    return { ...fresh(), ...(JSON.parse(sessionStorage.getItem(KEPT) ?? '{}') as Partial<Draft>) };
  } catch {
    return fresh();
  }
}

/** The draft with a sheet that was just written, in the first compartment that has none. */
export function withSheet(draft: Draft, sheet: number | undefined): Draft {
  const open = draft.compartments.findIndex((c) => !c.sheet_id);
  if (!sheet || open < 0) return draft;
  return { ...draft, compartments: draft.compartments.map((c, k) => (k === open ? { ...c, sheet_id: String(sheet) } : c)) };
}
