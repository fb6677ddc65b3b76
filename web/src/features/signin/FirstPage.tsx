import { useState } from 'react'
import { useParams } from 'react-router'
import { api } from '../../api/client'
import { Entrance, Field, Form } from './Entrance'
import { PASSWORD } from './NewPasswordPage'

/** The first start: whoever has the link that the program printed makes the first owner and the first space. */
export function FirstPage() {
  const { link } = useParams()
  const [email, setEmail] = useState('')
  const [name, setName] = useState('')
  const [space, setSpace] = useState('')
  const [password, setPassword] = useState('')
  const send = async () => {
    await api.first({ link: link!, email, name, space, password })
    location.assign('/')
  }
  return (
    <Entrance title="The first space, and its owner" below="You invite the others afterwards, under People.">
      <Form send={send} action="Begin">
        <Field
          name="What the team is called"
          kind="text"
          value={space}
          set={setSpace}
          hint="The name of the space: Thornwick apiaries"
          first
        />
        <Field name="Your name" kind="text" value={name} set={setName} />
        <Field name="Email address" kind="email" value={email} set={setEmail} />
        <Field name="Password" kind="new password" value={password} set={setPassword} hint={PASSWORD} />
      </Form>
    </Entrance>
  )
}
