import { useForm } from '@mantine/form';
import { refusedField } from '../api/client';
import { useOnce } from './figures';

/**
 * A form of several fields: its values, and what every form here does when it is sent. It is sent once at a time and with
 * the rules there to read its figures; what is refused stands beside the field that the server names, and what names no
 * field of the form stands at its end.
 */
export function useSheet<V extends Record<string, unknown>>(start: V, send: (values: V) => unknown) {
  const form = useForm<V>({ initialValues: start });
  const asked = new Set<string>(); // what was refused and has a place as it is drawn now
  const refused = (e: unknown) => {
    const { field, text } = refusedField(e);
    form.setErrors({ [field || ((e as { field?: string }).field ?? '')]: text }); // the Lab, too, names fields
  };
  const once = useOnce(refused);
  const submit = form.onSubmit((values) => once(() => send(values)));
  const named = (name: string) => {
    const at = Object.keys(form.errors).find((k) => k === name || k.startsWith(`${name}[`) || k.startsWith(`${name}.`));
    if (!at) return undefined;
    asked.add(at);
    return form.errors[at] as string; // none but ours are set
  };
  return {
    values: form.values,
    now: form.getValues, // before they are drawn
    put: (part: Partial<V> | ((old: V) => Partial<V>)) =>
      form.setValues(typeof part === 'function' ? (old) => part(old as V) : part), // all of them are there from the start
    submit,
    busy: form.submitting,
    /** Value, change and refusal of a field; name is the server's, where it has another. */
    field: <K extends keyof V & string>(path: K, name: string = path) => {
      const props = form.getInputProps(path);
      const onChange = (v: unknown) => {
        props.onChange(v);
        form.clearFieldError(name);
      };
      return { ...props, value: form.values[path], onChange, error: named(name) };
    },
    tick: (path: keyof V & string) => form.getInputProps(path, { type: 'checkbox' }),
    /** The refusal of a part that is no plain field, or of something in it. */
    refusalOf: named,
    /** What was refused and has no field; asked for behind the fields. */
    rest: () =>
      Object.entries(form.errors)
        .filter(([name]) => !asked.has(name))
        .map(([, text]) => text)[0],
    said: Object.values(form.errors)[0], // whatever was refused, with its field or without
    refuse: (name: string, text: string) => form.setErrors({ [name]: text }),
    refused,
  };
}
