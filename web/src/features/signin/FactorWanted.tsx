import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type Me } from '../../api/client'
import { Waiting } from '../../ui/Words'
import { SecondFactor } from '../account/SecondFactor'
import { CodeField, Entrance, Form } from './Entrance'
import { goOn } from './SignIn'

/** A space that asks for a second factor: it is shown, or set up. */
export function FactorWanted({ me }: { me: Me }) {
  const factors = useQuery({ queryKey: ['factors'], queryFn: api.factors })
  const [code, setCode] = useState('')
  if (!factors.data) return <Waiting what="Looking" />
  return (
    <Entrance
      title={`${me.space} asks for a second factor`}
      below={
        <span className="flex gap-4">
          <a className="link" href="/account">
            Your account
          </a>
          {me.spaces
            .filter((space) => space.id !== me.space_id)
            .map((space) => (
              <a key={space.id} className="link" href={space.address}>
                {space.name}
              </a>
            ))}
        </span>
      }
    >
      {factors.data.codes ? (
        <Form send={async () => (await api.showFactor(code), goOn())} action="Go on">
          <CodeField value={code} set={setCode} />
        </Form>
      ) : (
        <>
          <p className="font-serif text-lg">
            Beside your password you show that you hold a device of yours: its passkey, or a code that changes every half minute.
            {factors.data.passkeys.length > 0 && ' You have a passkey: sign out, and sign in with it.'}
          </p>
          <SecondFactor factors={factors.data} done={goOn} />
        </>
      )}
    </Entrance>
  )
}
