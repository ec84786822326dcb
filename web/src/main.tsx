import './style/main.scss'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { BrowserRouter } from 'react-router'
import { Refusal } from './api/client'
import { App } from './app/App'
import { SayProvider } from './app/say'

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      refetchOnWindowFocus: true,
      // A refusal stays one; only what was not answered is asked again.
      retry: (tries, error) => tries < 2 && error instanceof Refusal && error.status === 0,
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
