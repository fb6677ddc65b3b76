import { api, type Me } from '../../api/client'
import { base } from '../../api/space'
import { MakeSpace } from '../account/MakeSpace'
import { Entrance } from './Entrance'

/** For somebody who is signed in and is not in the space of the address, or in none. */
export function NoSpace({ me }: { me: Me }) {
  return (
    <Entrance
      title={base ? 'There is no such space, or you are not in it' : 'You are in no space'}
      below={
        <span className="flex gap-4">
          <a className="link" href="/account">
            Your account
          </a>
          <button type="button" className="link" onClick={async () => (await api.signOut(), location.assign('/'))}>
            Sign out
          </button>
        </span>
      }
    >
      <p className="font-serif text-lg">
        You are signed in as {me.name} ({me.email}).{' '}
        {base
          ? 'If you were here before, an owner has taken you out; what you made stays with your name.'
          : 'An owner of a space can invite you.'}
      </p>
      {me.spaces.length > 0 && (
        <nav aria-label="Your spaces">
          <ul className="flex flex-col gap-1.5">
            {me.spaces.map((space) => (
              <li key={space.id}>
                <a className="link font-serif text-lg wrap-anywhere" href={space.address}>
                  {space.name}
                </a>
              </li>
            ))}
          </ul>
        </nav>
      )}
      <MakeSpace label="A space of your own" />
    </Entrance>
  )
}
