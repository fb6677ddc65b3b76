import { useQuery } from '@tanstack/react-query'
import { Route, Routes } from 'react-router'
import { api, Refusal } from '../api/client'
import { AuditPage } from '../features/audit/AuditPage'
import { BuildPage } from '../features/build/BuildPage'
import { ChartPage } from '../features/chart/ChartPage'
import { DataPage } from '../features/data/DataPage'
import { ExamplesPage } from '../features/examples/ExamplesPage'
import { FrontPage } from '../features/front/FrontPage'
import { PairsPage } from '../features/pairs/PairsPage'
import { SharedPage } from '../features/shared/SharedPage'
import { SignIn } from '../features/signin/SignIn'
import { Waiting, Words } from '../ui/Words'
import { WorkStrip } from '../ui/WorkStrip'

const LOOK_AGAIN = 3000
const signedOut = (fault: unknown) => fault instanceof Refusal && fault.status === 401
const sentence = (text: string) => text.charAt(0).toUpperCase() + text.slice(1) + '.'

export function App() {
  const me = useQuery({
    queryKey: ['me'],
    queryFn: api.me,
    refetchInterval: (query) => (query.state.status === 'error' && !signedOut(query.state.error) ? LOOK_AGAIN : false),
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
  return (
    <>
      <WorkStrip />
      <Routes>
        <Route path="/" element={<FrontPage me={me.data} />} />
        <Route path="/build" element={<BuildPage me={me.data} />} />
        <Route path="/examples" element={<ExamplesPage me={me.data} />} />
        <Route path="/audit" element={<AuditPage me={me.data} />} />
        <Route path="/dataset/:dataset/data" element={<DataPage me={me.data} />} />
        <Route path="/dataset/:dataset/pairs" element={<PairsPage me={me.data} />} />
        <Route path="/dataset/:dataset/chart" element={<ChartPage me={me.data} />} />
        <Route path="/dataset/:dataset/chart/:chart" element={<ChartPage me={me.data} />} />
        <Route path="/dataset/:dataset/shared" element={<SharedPage me={me.data} />} />
        <Route path="*" element={<Words title="There is nothing at this address" text="Go back to the front page." />} />
      </Routes>
    </>
  )
}
