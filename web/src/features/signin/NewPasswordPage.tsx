import { useState } from 'react'
import { useParams } from 'react-router'
import { api } from '../../api/client'
import { Entrance, Field, Form } from './Entrance'

/** What a password must be, in words. */
export const PASSWORD = 'At least 12 letters: three or four words will do'

/** Where a link to a new password leads. */
export function NewPasswordPage() {
  const { link } = useParams()
  const [password, setPassword] = useState('')
  const send = async () => {
    await api.newPassword(link!, password)
    location.assign('/')
  }
  return (
    <Entrance title="A new password" below="The link works once. All places where you are signed in are signed out.">
      <Form send={send} action="Keep it and sign in">
        <Field name="New password" kind="new password" value={password} set={setPassword} hint={PASSWORD} first />
      </Form>
    </Entrance>
  )
}
