/** The fields of a form, each bound by its name: a line of text, an amount, one of many, one of a few, yes or no, a day. */
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { type FieldValues, type Path, useController } from 'react-hook-form';
import type { Kind } from '../../app/session';
import { Choice } from '../Choice';
import { DateField } from '../DateField';
import { Pick } from '../Pick';
import { QuantityField } from '../QuantityField';
import { Words } from '../Words';

type Named<T extends FieldValues> = { name: Path<T>; label: string; hint?: string };

/** What a field holds, how it is changed, and what is wrong with it. */
function useBound<T extends FieldValues>(name: Path<T>) {
  const { field, fieldState } = useController<T>({ name });
  return { value: field.value, set: field.onChange as (value: unknown) => void, problem: fieldState.error?.message ?? '', inputRef: field.ref };
}

export function Line<T extends FieldValues>({ name, label, hint, most, lines, autoFocus }: Named<T> & { most?: number; lines?: number; autoFocus?: boolean }) {
  const { value, set, problem, inputRef } = useBound<T>(name);
  return <Words label={label} value={value} onChange={set} problem={problem} hint={hint} most={most} lines={lines} autoFocus={autoFocus} inputRef={inputRef} />;
}

export function Amount<T extends FieldValues>({ name, label, hint, kind }: Named<T> & { kind: Kind }) {
  const { value, set, problem, inputRef } = useBound<T>(name);
  return <QuantityField label={label} kind={kind} value={value} onChange={set} problem={problem} hint={hint} inputRef={inputRef} />;
}

export function OneOf<T extends FieldValues>({
  name,
  label,
  hint,
  options,
  empty,
}: Named<T> & { options: readonly (readonly [string, string])[]; empty?: string }) {
  const { value, set, problem, inputRef } = useBound<T>(name);
  return <Pick label={label} value={value} options={options} onChange={set} problem={problem} empty={empty} hint={hint} inputRef={inputRef} />;
}

export function OneOfFew<T extends FieldValues>({ name, label, options }: Named<T> & { options: readonly { value: string; label: string }[] }) {
  const { value, set } = useBound<T>(name);
  return <Choice label={label} value={value} options={options} onChange={set} />;
}

export function YesNo<T extends FieldValues>({ name, label }: Named<T>) {
  const { value, set } = useBound<T>(name);
  return <FormControlLabel control={<Checkbox checked={Boolean(value)} onChange={(e) => set(e.target.checked)} />} label={label} />;
}

export function Day<T extends FieldValues>({ name, label, hint, earliest, latest }: Named<T> & { earliest?: string; latest?: string }) {
  const { value, set, problem } = useBound<T>(name);
  return <DateField label={label} value={value} onChange={set} problem={problem} hint={hint} earliest={earliest} latest={latest} />;
}

export const pairs = (words: readonly string[]) => words.map((w) => [w, w] as const);
