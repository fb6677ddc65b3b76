import { useQuery } from '@tanstack/react-query'
import { Route, Routes } from 'react-router'
import { api, Refusal } from '../api/client'
import { ChartPage } from '../features/chart/ChartPage'
import { DataPage } from '../features/data/DataPage'
import { FrontPage } from '../features/front/FrontPage'
import { SharedPage } from '../features/shared/SharedPage'
import { SignIn } from '../features/signin/SignIn'
import { Waiting, Words } from '../ui/Words'

export function App() {
  const me = useQuery({ queryKey: ['me'], queryFn: api.me })
  if (me.isPending) return <Waiting what="Opening Copper Lark" />
  if (me.error) return me.error instanceof Refusal && me.error.status === 401 ? <SignIn /> : <Words title="Copper Lark cannot be reached" text={me.error.message} />
  return (
    <Routes>
      <Route path="/" element={<FrontPage me={me.data} />} />
      <Route path="/dataset/:dataset/data" element={<DataPage me={me.data} />} />
      <Route path="/dataset/:dataset/chart" element={<ChartPage me={me.data} />} />
      <Route path="/dataset/:dataset/chart/:chart" element={<ChartPage me={me.data} />} />
      <Route path="/dataset/:dataset/shared" element={<SharedPage me={me.data} />} />
      <Route path="*" element={<Words title="There is nothing at this address" text="Go back to the front page." />} />
    </Routes>
  )
}
