import { zodResolver } from '@hookform/resolvers/zod'
import { useEffect, useId, type FormHTMLAttributes, type ReactElement, type ReactNode } from 'react'
import { Button, Form, type ButtonProps, type FormControlProps, type FormSelectProps } from 'react-bootstrap'
import {
  FormProvider,
  useForm,
  useFormContext,
  type DefaultValues,
  type FieldValues,
  type Resolver,
  type UseFormReturn,
} from 'react-hook-form'
import type { z } from 'zod'
import { Refusal } from '../api/client'
import { Failed } from './verb'

// useFields holds what is typed into a form, and what its schema says of it. A field is
// looked at once it is sent, and from then on as it is typed.
export function useFields<S extends z.ZodType<FieldValues, FieldValues>>(schema: S, start: z.output<S>) {
  return useForm<z.output<S>, unknown, z.output<S>>({
    resolver: zodResolver(schema) as Resolver<z.output<S>>,
    defaultValues: start as DefaultValues<z.output<S>>,
  })
}

type Sent = { error: Error | null; isPending: boolean }

// Fields is a form. What the server refuses stands above it, and at the field it is about;
// what was typed is kept.
export function Fields<T extends FieldValues>({
  form,
  verb,
  send,
  children,
  ...rest
}: {
  form: UseFormReturn<T, unknown, T>
  verb: Sent
  send: (values: T) => void
  children: ReactNode
} & Omit<FormHTMLAttributes<HTMLFormElement>, 'onSubmit'>) {
  const here = verb.error instanceof Refusal && verb.error.fields.some((f) => f.path in form.getValues())
  const { setError } = form
  useEffect(() => {
    if (!(verb.error instanceof Refusal)) return
    for (const f of verb.error.fields) setError(f.path as never, { type: 'server', message: f.message })
  }, [verb.error, setError])
  return (
    <FormProvider {...form}>
      <Failed error={here ? new Error(verb.error!.message) : verb.error} />
      <form {...rest} noValidate onSubmit={(e) => void form.handleSubmit(send)(e)}>
        {children}
      </form>
    </FormProvider>
  )
}

// Labelled is a field under its label, and what is wrong with it. A hidden label
// is read out all the same.
function Labelled({
  name,
  label,
  hidden,
  help,
  children,
}: {
  name: string
  label: string
  hidden?: boolean
  help?: ReactNode
  children: (control: { isInvalid: boolean; 'aria-label'?: string }) => ReactElement
}) {
  const id = useId()
  const { formState } = useFormContext()
  const wrong = formState.errors[name]?.message as string | undefined
  return (
    <Form.Group controlId={id}>
      {!hidden && <Form.Label>{label}</Form.Label>}
      {children({ isInvalid: !!wrong, 'aria-label': hidden ? label : undefined })}
      {wrong && (
        <Form.Control.Feedback type="invalid" className="d-block" role="alert">
          {wrong}
        </Form.Control.Feedback>
      )}
      {help && <Form.Text>{help}</Form.Text>}
    </Form.Group>
  )
}

type FieldProps = { name: string; label: string; hidden?: boolean; help?: ReactNode }

// Text is a field to type into.
export function Text({ name, label, hidden, help, rows, ...control }: FieldProps & { rows?: number } & Omit<FormControlProps, 'name'>) {
  const { register } = useFormContext()
  return (
    <Labelled {...{ name, label, hidden, help }}>
      {(said) => <Form.Control as={rows ? 'textarea' : 'input'} rows={rows} {...control} {...said} {...register(name)} />}
    </Labelled>
  )
}

// Choice is a field of which one is chosen. Its children are the options.
export function Choice({ name, label, hidden, help, ...select }: FieldProps & Omit<FormSelectProps, 'name'>) {
  const { register } = useFormContext()
  return <Labelled {...{ name, label, hidden, help }}>{(said) => <Form.Select {...select} {...said} {...register(name)} />}</Labelled>
}

// Tick is a field of yes or no.
export function Tick({ name, label }: { name: string; label: ReactNode }) {
  const id = useId()
  const { register } = useFormContext()
  return <Form.Check id={id} label={label} {...register(name)} />
}

// Send is the button that sends the form, and says that it is under way.
export function Send({ verb, running, children, ...button }: { verb: Sent; running?: string; children: ReactNode } & ButtonProps) {
  return (
    <Button type="submit" {...button} disabled={button.disabled || verb.isPending}>
      {verb.isPending && running ? running : children}
    </Button>
  )
}
