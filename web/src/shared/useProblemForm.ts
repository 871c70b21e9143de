import { classValidatorResolver } from '@hookform/resolvers/class-validator';
import { useRef, useState } from 'react';
import { useForm, type DefaultValues, type FieldError, type FieldValues, type Path } from 'react-hook-form';
import { ApiError, inWords } from '../api/client.js';
import type { Conflict } from './ChangedMeanwhile.js';
import { differences } from './differences.js';

/**
 * What to say of a field: the message of its first rule that does not hold ("is a number" rather than "at most
 * 6300"). class-validator reports the rules from the last one to the first.
 */
export function messageOf(error: FieldError | undefined): string | undefined {
  const all = Object.values(error?.types ?? {}).flat();
  return (all.at(-1) as string | undefined) ?? error?.message;
}

/** What the server says of something that somebody else has changed. */
interface Meanwhile {
  version: number;
  now: Record<string, unknown>;
}

/**
 * A form over one of the contract's classes: checked by the same rules as in the server while one types; what
 * the server finds wrong is shown at its field, and what belongs to no field as `problem`.
 * @param send answers false when it has not been done, because it asks something first
 * @param startVersion of what is edited: when somebody else has saved it meanwhile, both are shown and one chooses
 */
export function useProblemForm<T extends FieldValues>(
  type: new () => T,
  defaults: DefaultValues<T>,
  send: (values: T) => Promise<void | false>,
  startVersion?: number,
) {
  const form = useForm<T>({
    resolver: classValidatorResolver(type as never) as never,
    defaultValues: defaults,
    mode: 'onTouched',
    criteriaMode: 'all',
  });
  const [problem, setProblem] = useState<string | null>(null);
  const [meanwhile, setMeanwhile] = useState<Meanwhile | null>(null);
  // What has been seen of what others did: the next saving is measured against it.
  const version = useRef(startVersion);
  const submit = form.handleSubmit(async (values) => {
    setProblem(null);
    setMeanwhile(null);
    try {
      const sent = version.current === undefined ? values : { ...values, version: version.current };
      const done = await send(sent as T);
      if (done !== false && version.current !== undefined) version.current++;
    } catch (error) {
      if (error instanceof ApiError && error.problem.now) return setMeanwhile(error.problem as Meanwhile);
      const faults = error instanceof ApiError ? (error.problem.errors ?? []) : [];
      const known = faults.filter((f) => f.field in (defaults as object));
      for (const { field, message } of known) form.setError(field as Path<T>, { message });
      if (known.length === 0) setProblem(inWords(error));
    }
  });
  /** What a text field needs to be part of the form. */
  const text = (name: Path<T>, number = false) => ({
    ...form.register(
      name,
      number ? { setValueAs: (v: unknown) => (v === '' || v === null ? undefined : Number(v)) } : {},
    ),
    error: form.formState.errors[name] !== undefined,
    helperText: messageOf(form.formState.errors[name] as FieldError | undefined) ?? ' ',
  });
  const busy = form.formState.isSubmitting;
  const dirty = form.formState.isDirty;
  const conflict: Conflict | null = meanwhile && {
    rows: differences(form.getValues(), meanwhile.now, defaults as object),
    keepMine: () => {
      version.current = meanwhile.version;
      void submit();
    },
    takeTheirs: () => {
      version.current = meanwhile.version;
      setMeanwhile(null);
      form.reset({ ...form.getValues(), ...meanwhile.now });
    },
  };
  /** What a FormDialog needs of it. */
  const dialog = { onSubmit: submit, busy, problem, dirty, conflict };
  return { ...form, problem, setProblem, submit, text, busy, dirty, dialog };
}
