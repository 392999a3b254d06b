/** The shape of a form whose fields are plain: text, a tick, a choice; by it what was kept before a reload is read. */
import { z } from 'zod';

function shapeOfOne(value: unknown): z.ZodType {
  if (typeof value === 'string') return z.string();
  if (typeof value === 'boolean') return z.boolean();
  if (Array.isArray(value)) return z.array(value.length ? shapeOfOne(value[0]) : z.unknown());
  if (typeof value === 'object' && value !== null) return shapeOf(value);
  return z.unknown();
}

/** The shape of which ``start`` is one. Fields that another day's form had are left out. */
export function shapeOf<T extends object>(start: T): z.ZodType<T, T> {
  const parts = Object.fromEntries(Object.entries(start).map(([name, value]) => [name, shapeOfOne(value)]));
  return z.object(parts) as unknown as z.ZodType<T, T>;
}
