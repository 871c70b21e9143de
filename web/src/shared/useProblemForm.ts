import { classValidatorResolver } from '@hookform/resolvers/class-validator';
import { useState } from 'react';
import { useForm, type DefaultValues, type FieldValues, type Path } from 'react-hook-form';
import { ApiError, inWords } from '../api/client.js';

/**
 * A form over one of the contract's classes: checked by the same rules as in the server while one types; what
 * the server finds wrong is shown at its field, and what belongs to no field as `problem`.
 */
export function useProblemForm<T extends FieldValues>(
  type: new () => T,
  defaults: DefaultValues<T>,
  send: (values: T) => Promise<void>,
) {
  const form = useForm<T>({
    resolver: classValidatorResolver(type as never) as never,
    defaultValues: defaults,
    mode: 'onTouched',
  });
  const [problem, setProblem] = useState<string | null>(null);
  const submit = form.handleSubmit(async (values) => {
    setProblem(null);
    try {
      await send(values as T);
    } catch (error) {
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
    helperText: (form.formState.errors[name]?.message as string | undefined) ?? ' ',
  });
  return { ...form, problem, setProblem, submit, text, busy: form.formState.isSubmitting };
}
