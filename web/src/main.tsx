import './style/main.scss'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { BrowserRouter } from 'react-router'
import { isAway, Refusal } from './api/client'
import { App } from './app/App'
import { SayProvider } from './app/say'

// How long it is waited, in ms, before it is asked again whether the database answers.
const awayPause = 2_000

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      refetchOnWindowFocus: true,
      // A refusal stays one; only what was not answered is asked again.
      retry: (tries, error) => isAway(error) || (tries < 2 && error instanceof Refusal && error.status === 0),
      retryDelay: (tries, error) => (isAway(error) ? awayPause : 1_000 * 2 ** tries),
    },
  },
})

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <BrowserRouter>
        <SayProvider>
          <App />
        </SayProvider>
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
)
