import type { Schemas } from '../../../app/api';
import { blank, type CompartmentDraft } from '../board/CompartmentLine';

export type Request = Schemas['VehicleRequestRequest'];

export type Pick2<T, K extends keyof T> = { [P in K]: NonNullable<T[P]> };

export type Draft = Pick2<Request, 'name' | 'kind' | 'layout' | 'meter'> & { plate: string; note: string; off_road: string; compartments: CompartmentDraft[] };

export const KEPT = 'barodex.new-vehicle';

export const fresh = (): Draft => ({ name: '', plate: '', note: '', kind: 'car', layout: 'front-wheel', meter: 'km', off_road: '0', compartments: [blank()] });

export function kept(): Draft {
  try {
    return { ...fresh(), ...(JSON.parse(sessionStorage.getItem(KEPT) ?? '{}') as Partial<Draft>) };
  } catch {
    return fresh();
  }
}
