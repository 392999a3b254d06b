/** A form that is being filled in: what is typed is kept over a refusal and a reload, and what the server refuses stands at its field. */
import { zodResolver } from '@hookform/resolvers/zod';
import { type UseMutationResult, useMutation, useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useRef } from 'react';
import { type DefaultValues, type FieldValues, type Path, type UseFormReturn, useForm } from 'react-hook-form';
import type { z } from 'zod';
import { Refused, standing } from '../../app/api';
import { shapeOf } from './shape';

/** ``start``: what stands in the form at first; ``keep``: the name under which it outlives a reload, all but what is ``secret``; ``taken``: done at once when the server
 *  took it, ``settled``: when the page shows it; ``version``: that from which an edit starts; ``pathOf``: the field of the form to which one
 *  of the server's belongs, where they differ. */
export type TypedOptions<T extends FieldValues, R> = {
  start: T;
  schema?: z.ZodType<T, T>;
  send: (typed: T, version: number) => Promise<R>;
  taken?: (result: R) => unknown;
  settled?: (result: R) => unknown;
  keep?: string;
  secret?: (keyof T)[];
  version?: number;
  pathOf?: (field: string) => string;
};

export type Typed<T extends FieldValues, R = unknown> = {
  form: UseFormReturn<T>;
  act: UseMutationResult<R, Error, T>;
  submit: () => void;
  overtaken: boolean;
  named: string[];
  /** What is wrong with a field, by its path in the form; empty where nothing is. */
  at: (field: string) => string;
  startAgain: (values: T) => void;
};

type Kept<T> = { start: T; typed: T };

/** What was typed before a reload, where it began from the same and still has the shape of the form. */
export function keptBefore<T>(key: string | undefined, schema: z.ZodType<T, T>, start: T): T {
  try {
    const kept = JSON.parse((key && sessionStorage.getItem(key)) || '{}') as Partial<Kept<T>>;
    if (JSON.stringify(kept.start) !== JSON.stringify(start)) return start;
    const found = schema.safeParse(kept.typed);
    return found.success ? found.data : start;
  } catch {
    return start;
  }
}

export function keep<T>(key: string, start: T, typed: T): void {
  sessionStorage.setItem(key, JSON.stringify({ start, typed } satisfies Kept<T>));
}

/** What is typed but for what is secret. */
const without = <T extends object>(typed: T, secret: (keyof T)[], start: T): T => ({
  ...typed,
  ...Object.fromEntries(secret.map((name) => [name, start[name]])),
});

/** A refusal at its field; overtaken, an edit goes on from the version that stands now, so that a second press writes knowingly. */
export function useTyped<T extends FieldValues, R>(options: TypedOptions<T, R>): Typed<T, R> {
  const { start, send, taken, settled, keep: key, version = 0, pathOf = (field: string) => field } = options;
  const from = useRef(version);
  const begun = useRef(start);
  const hidden = useRef(options.secret ?? []);
  const cache = useQueryClient();
  const schema = useMemo(() => options.schema ?? shapeOf(begun.current), [options.schema]);
  const form = useForm<T>({ defaultValues: keptBefore(key, schema, begun.current) as DefaultValues<T>, resolver: zodResolver(schema) });
  useEffect(() => {
    if (!key) return;
    return form.subscribe({ formState: { values: true }, callback: ({ values }) => keep(key, begun.current, without(values, hidden.current, begun.current)) });
  }, [form, key]);
  const act = useMutation<R, Error, T>({
    mutationFn: (typed) => send(typed, from.current),
    onSuccess: async (result) => {
      if (key) sessionStorage.removeItem(key);
      await taken?.(result);
      await cache.invalidateQueries();
      await settled?.(result);
    },
    onError: (error) => {
      if (standing(error)) from.current = standing(error);
      else if (error instanceof Refused)
        for (const [k, e] of error.problem.errors.entries())
          form.setError(pathOf(e.field) as Path<T>, { type: 'server', message: e.message }, { shouldFocus: k === 0 });
    },
  });
  const overtaken = standing(act.error) > 0;
  return {
    form,
    act,
    submit: form.handleSubmit((typed) => {
      if (!act.isPending) act.mutate(typed);
    }),
    overtaken,
    named: act.error instanceof Refused && !overtaken ? act.error.problem.errors.map((e) => e.field) : [],
    at: (field) => (overtaken ? '' : (form.getFieldState(field as Path<T>, form.formState).error?.message ?? '')),
    startAgain: (values) => {
      form.reset(values);
      act.reset();
    },
  };
}
