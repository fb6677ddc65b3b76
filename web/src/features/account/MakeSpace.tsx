import { useState } from 'react'
import { api } from '../../api/client'
import { Field, Form } from '../signin/Entrance'

/** Makes a space of one's own, and goes there. */
export function MakeSpace({ label }: { label: string }) {
  const [name, setName] = useState('')
  return (
    <Form send={async () => location.assign((await api.addSpace(name)).address)} action="Make a space">
      <Field name={label} kind="text" value={name} set={setName} hint="What its people call it" />
    </Form>
  )
}
