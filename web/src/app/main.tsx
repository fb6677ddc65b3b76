import './styles.css'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { createRoot } from 'react-dom/client'
import { BrowserRouter } from 'react-router'
import { Refusal } from '../api/client'
import { base } from '../api/space'
import { showTheme, themeChoice } from '../painter/theme'
import { keepFocus } from '../ui/focus'
import { App } from './App'
import { Boundary } from './Boundary'

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      retry: (count, fault) => count < 2 && !(fault instanceof Refusal && fault.status > 0),
      refetchOnWindowFocus: false,
      staleTime: 30_000,
    },
  },
})

showTheme(themeChoice())
keepFocus()
createRoot(document.getElementById('root')!).render(
  <QueryClientProvider client={queries}>
    <BrowserRouter basename={base}>
      <Boundary>
        <App />
      </Boundary>
    </BrowserRouter>
  </QueryClientProvider>,
)
