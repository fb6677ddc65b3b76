import { useQueryClient } from '@tanstack/react-query'
import { DropdownMenu } from 'radix-ui'
import { useState, type ComponentProps, type ReactNode } from 'react'
import { Link, NavLink } from 'react-router'
import { api, type Dataset, type Me } from '../api/client'
import { base } from '../api/space'
import { initials, personColour } from './initials'
import { may } from './may'
import { ITEM, MENU } from './menu'
import { setSingleKeys, singleKeys } from './singleKeys'
import { useTitle } from './title'
import { chooseTheme, themeChoice, type Choice } from '../painter/theme'
import lark from '../app/lark.svg'
import { over } from './over'

/** Where a skip link goes: what it is called, and what it finds. */
export type Skip = [name: string, selector: string]

const TO_CONTENT: Skip[] = [['the content', 'main']]

/** The bar over every view, and the view below it. Title is what is looked at, view what the view is called. */
export function Shell({
  me,
  dataset,
  view,
  title,
  headed = false,
  skips = TO_CONTENT,
  here,
  others,
  action,
  children,
}: {
  me: Me
  dataset?: Dataset
  view: string
  title?: string
  /** The view has a heading of its own. */
  headed?: boolean
  skips?: Skip[]
  here?: ReactNode
  /** Who else has the same open. */
  others?: ReactNode
  action?: ReactNode
  children: ReactNode
}) {
  useTitle(title, title === dataset?.name ? undefined : dataset?.name, view)
  return (
    <div className="flex h-full flex-col slim:h-auto slim:min-h-full short:h-auto short:min-h-full">
      <SkipLinks to={skips} />
      <header className="flex h-[46px] shrink-0 items-center gap-4 bg-bar px-5 text-bar-ink slim:h-auto slim:flex-wrap slim:gap-x-3 slim:gap-y-1 slim:px-3 slim:py-1.5">
        {!headed && <h1 className="sr-only">{[title ?? dataset?.name, view].filter(Boolean).join(', ')}</h1>}
        <ToView me={me} to="/" className="flex shrink-0 items-center gap-4 font-serif text-[17px] font-semibold">
          <img src={lark} alt="" width={27} height={27} />
          Copper Lark
        </ToView>
        <nav aria-label="Place" className="flex min-w-0 items-center gap-2 text-bar-muted slim:order-1 slim:w-full">
          <ToView me={me} to="/" className="truncate hover:text-bar-ink">
            {me.space}
          </ToView>
          {me.spaces.length > 1 && <SpaceMenu me={me} />}
          {dataset && (
            <>
              <span aria-hidden>/</span>
              <span className="shrink-0 max-w-56 truncate">{dataset.name}</span>
            </>
          )}
          {here && (
            <>
              <span aria-hidden>/</span>
              {here}
            </>
          )}
        </nav>
        {dataset && (
          <nav aria-label="Views" className="ml-6 flex shrink-0 gap-1 slim:order-2 slim:ml-0 slim:flex-wrap">
            {[
              ['data', 'Data'],
              ['pairs', 'Pairs'],
              ['chart', 'Chart'],
              ['shared', 'Shared'],
            ].map(([view, name]) => (
              <NavLink
                key={view}
                to={`/dataset/${dataset.id}/${view}`}
                className={({ isActive }) =>
                  `rounded-md px-3 py-1.5 ${isActive ? 'bg-bar-here font-semibold' : 'text-bar-muted hover:text-bar-ink'}`
                }
              >
                {name}
              </NavLink>
            ))}
          </nav>
        )}
        <div className="ml-auto flex shrink-0 items-center gap-4">
          {others}
          <PersonMenu me={me} />
          {action}
        </div>
      </header>
      {children}
    </div>
  )
}

/** To a view of the space. A window that is in no space yet loads it with its address. */
function ToView({ me, to, ...rest }: { me: Me; to: string } & ComponentProps<'a'>) {
  return base ? <Link to={to} {...rest} /> : <a href={to === '/' ? me.address || to : me.address + to} {...rest} />
}

/** From one space to another that one is in. */
function SpaceMenu({ me }: { me: Me }) {
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger className="shrink-0 rounded px-1.5 py-0.5 hover:bg-bar-here hover:text-bar-ink" aria-label="Change the space">
        <span aria-hidden>▾</span>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal container={over()}>
        <DropdownMenu.Content align="start" sideOffset={6} className={`${MENU} max-h-96 overflow-auto`}>
          {me.spaces.map((space) => (
            <DropdownMenu.Item key={space.id} asChild>
              <a
                className={`${ITEM} flex max-w-96 items-baseline justify-between`}
                href={space.address}
                aria-current={space.id === me.space_id ? 'page' : undefined}
              >
                <span className="min-w-0 truncate" title={space.name}>
                  {space.name}
                </span>
                <span className="ml-3 shrink-0 text-[13px] text-muted">{space.id === me.space_id ? 'here' : space.role}</span>
              </a>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}

const THEMES: [Choice, string][] = [
  ['', 'Light or dark as the system'],
  ['light', 'Light'],
  ['dark', 'Dark'],
]

/** The first stops of the tab key: straight to a part of the view. */
function SkipLinks({ to }: { to: Skip[] }) {
  const go = (selector: string) => {
    const part = document.querySelector<HTMLElement>(selector)
    if (!part) return
    if (part.tabIndex < 0) part.tabIndex = -1
    part.focus()
    part.scrollIntoView({ block: 'nearest' })
  }
  return (
    <nav aria-label="Skip" className="absolute z-30 flex gap-2">
      {to.map(([name, selector]) => (
        <button
          key={name}
          type="button"
          className="sr-only rounded-md bg-strip px-3 py-1.5 text-ink focus:not-sr-only focus:m-1.5"
          onClick={() => go(selector)}
        >
          Skip to {name}
        </button>
      ))}
    </nav>
  )
}

function PersonMenu({ me }: { me: Me }) {
  const [theme, setTheme] = useState(themeChoice)
  const [keys, setKeys] = useState(singleKeys)
  const queries = useQueryClient()
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger
        className="grid size-7 place-items-center rounded-full text-[11px] font-semibold text-white"
        style={{ background: personColour(me.id) }}
        aria-label={`${me.name}: menu`}
      >
        {initials(me.name)}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal container={over()}>
        <DropdownMenu.Content align="end" sideOffset={8} className={MENU}>
          <p className="px-3 py-1.5 text-muted">
            {me.name}
            <br />
            {me.email}
          </p>
          {me.role && (
            <DropdownMenu.Item asChild>
              <ToView me={me} to="/people" className={ITEM}>
                People
              </ToView>
            </DropdownMenu.Item>
          )}
          {may(me, 'owner') && (
            <DropdownMenu.Item asChild>
              <ToView me={me} to="/audit" className={ITEM}>
                What was done here
              </ToView>
            </DropdownMenu.Item>
          )}
          <DropdownMenu.Item asChild>
            <a href="/account" className={ITEM}>
              Your account
            </a>
          </DropdownMenu.Item>
          <DropdownMenu.RadioGroup
            value={theme}
            aria-label="Light or dark"
            onValueChange={(choice) => {
              setTheme(choice as Choice)
              chooseTheme(choice as Choice)
            }}
          >
            {THEMES.map(([choice, label]) => (
              <DropdownMenu.RadioItem
                key={label}
                value={choice}
                className="flex cursor-pointer items-center justify-between gap-4 rounded-md px-3 py-1.5 outline-none data-[highlighted]:bg-copper-wash data-[highlighted]:text-copper"
                onSelect={(e) => e.preventDefault() /* it is looked at before it is left */}
              >
                {label}
                <DropdownMenu.ItemIndicator className="text-copper">•</DropdownMenu.ItemIndicator>
              </DropdownMenu.RadioItem>
            ))}
          </DropdownMenu.RadioGroup>
          <DropdownMenu.CheckboxItem
            checked={keys}
            className="flex cursor-pointer items-center justify-between gap-4 rounded-md px-3 py-1.5 outline-none data-[highlighted]:bg-copper-wash data-[highlighted]:text-copper"
            onSelect={(e) => e.preventDefault()}
            onCheckedChange={(on) => {
              setKeys(on)
              setSingleKeys(on)
            }}
          >
            Single keys: /, arrows, letters
            <DropdownMenu.ItemIndicator className="text-copper">•</DropdownMenu.ItemIndicator>
          </DropdownMenu.CheckboxItem>
          <DropdownMenu.Separator className="my-1 border-t border-line" />
          <DropdownMenu.Item
            className="cursor-pointer rounded-md px-3 py-1.5 outline-none data-[highlighted]:bg-copper-wash data-[highlighted]:text-copper"
            onSelect={async () => {
              await api.signOut()
              queries.clear()
              location.assign('/')
            }}
          >
            Sign out
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}
