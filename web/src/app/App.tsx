import { useQuery } from '@tanstack/react-query'
import { lazy, Suspense } from 'react'
import { Route, Routes, useLocation } from 'react-router'
import { api, Refusal, type Me } from '../api/client'
import { AccountPage } from '../features/account/AccountPage'
import { AuditPage } from '../features/audit/AuditPage'
import { ComparePage } from '../features/compare/ComparePage'
import { BuildPage } from '../features/build/BuildPage'
import { ChartPage } from '../features/chart/ChartPage'
import { DataPage } from '../features/data/DataPage'
import { ExamplesPage } from '../features/examples/ExamplesPage'
import { FrontPage } from '../features/front/FrontPage'
import { CopyPage } from '../features/pages/CopyPage'
import { PairsPage } from '../features/pairs/PairsPage'
import { PeoplePage } from '../features/people/PeoplePage'
import { SharedPage } from '../features/shared/SharedPage'
import { FactorWanted } from '../features/signin/FactorWanted'
import { FirstPage } from '../features/signin/FirstPage'
import { InvitedPage } from '../features/signin/InvitedPage'
import { NewPasswordPage } from '../features/signin/NewPasswordPage'
import { NoSpace } from '../features/signin/NoSpace'
import { SignIn } from '../features/signin/SignIn'
import { Makes, may } from '../ui/may'
import { Waiting, Words } from '../ui/Words'
import { WorkStrip } from '../ui/WorkStrip'

/** Fetched when a page is first opened: its editor is for writers alone. */
const PagePage = lazy(() => import('../features/pages/PagePage').then((all) => ({ default: all.PagePage })))

const LOOK_AGAIN = 3000
/** How often an open window asks whether its person's role is still what it was, in milliseconds. */
const STILL_HERE = 5000
const signedOut = (fault: unknown) => fault instanceof Refusal && fault.status === 401
const sentence = (text: string) => text.charAt(0).toUpperCase() + text.slice(1) + '.'

/** Pages for whoever has their link, signed in or not. */
const OPEN = ['/invited/', '/password/', '/first/']

export function App() {
  const { pathname } = useLocation()
  return OPEN.some((page) => pathname.startsWith(page)) ? (
    <Routes>
      <Route path="/invited/:key" element={<InvitedPage />} />
      <Route path="/password/:link" element={<NewPasswordPage />} />
      <Route path="/first/:link" element={<FirstPage />} />
      <Route path="*" element={<Words title="There is nothing at this address" text="Go back to the front page." />} />
    </Routes>
  ) : (
    <SignedIn />
  )
}

function SignedIn() {
  const me = useQuery({
    queryKey: ['me'],
    queryFn: () => api.meAgain(),
    refetchInterval: (query) => (query.state.status !== 'error' ? STILL_HERE : signedOut(query.state.error) ? false : LOOK_AGAIN),
    refetchOnWindowFocus: 'always',
  })
  if (me.isPending) return <Waiting what="Opening Copper Lark" />
  if (me.error && signedOut(me.error)) return <SignIn />
  if (me.error && !me.data)
    return (
      <Words
        title="Copper Lark does not answer just now"
        text={`${sentence(me.error.message)} This page looks again by itself; you stay signed in, and nothing that was kept is lost.`}
      />
    )
  if (!me.data) return <Waiting what="Opening Copper Lark" />
  return <Views me={me.data} />
}

function Views({ me }: { me: Me }) {
  const { pathname } = useLocation()
  if (pathname === '/account')
    return (
      <Routes>
        <Route path="/account" element={<AccountPage me={me} />} />
      </Routes>
    )
  if (!me.role) return <NoSpace me={me} />
  if (me.ask_factor) return <FactorWanted me={me} />
  return (
    <Makes value={may(me, 'maker')}>
      <WorkStrip />
      <Routes>
        <Route path="/" element={<FrontPage me={me} />} />
        <Route path="/people" element={<PeoplePage me={me} />} />
        <Route path="/build" element={<BuildPage me={me} />} />
        <Route path="/examples" element={<ExamplesPage me={me} />} />
        <Route path="/copy/:share" element={<CopyPage me={me} />} />
        <Route
          path="/page/:page"
          element={
            <Suspense fallback={<Waiting what="Opening the page" />}>
              <PagePage me={me} />
            </Suspense>
          }
        />
        <Route path="/audit" element={<AuditPage me={me} />} />
        <Route path="/dataset/:dataset/data" element={<DataPage me={me} />} />
        <Route path="/dataset/:dataset/pairs" element={<PairsPage me={me} />} />
        <Route path="/dataset/:dataset/chart" element={<ChartPage me={me} />} />
        <Route path="/dataset/:dataset/chart/:chart" element={<ChartPage me={me} />} />
        <Route path="/dataset/:dataset/compare" element={<ComparePage me={me} />} />
        <Route path="/dataset/:dataset/shared" element={<SharedPage me={me} />} />
        <Route path="*" element={<Words title="There is nothing at this address" text="Go back to the front page." />} />
      </Routes>
    </Makes>
  )
}
