import '@fontsource/atkinson-hyperlegible/latin-400.css'
import '@fontsource/atkinson-hyperlegible/latin-700.css'
import '@fontsource/atkinson-hyperlegible-mono/latin-400.css'
import '@fontsource/atkinson-hyperlegible-mono/latin-700.css'
import './theme.css'
import { QueryCache, QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { setNonce } from 'get-nonce'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { BrowserRouter } from 'react-router'
import { ApiProblem, client } from './api/client'
import { App } from './app'
import { currentTheme } from './parts/theme'

// Styles that dialogs add at run time carry the nonce of the content policy.
const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content
if (nonce) setNonce(nonce)
document.documentElement.dataset.theme = currentTheme()

const queries: QueryClient = new QueryClient({
  queryCache: new QueryCache({
    // A session that has ended is found out by whoever asks first.
    onError: (error, query) => {
      const ended = error instanceof ApiProblem && error.status === 401
      if (ended && query.queryKey[0] !== 'hello') void queries.invalidateQueries({ queryKey: ['hello'] })
    },
  }),
  defaultOptions: {
    // Without the line the device answers what it can.
    queries: {
      staleTime: 5_000,
      networkMode: 'always',
      retry: (count, error) => !(error instanceof ApiProblem) && count < 2,
    },
    mutations: { networkMode: 'always' },
  },
})

const root = document.getElementById('root')
if (root) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <BrowserRouter>
          <App />
        </BrowserRouter>
      </QueryClientProvider>
    </StrictMode>,
  )
}

// A part of the application that is not there any more may belong to an earlier build:
// any answer of the server tells.
addEventListener('vite:preloadError', () => {
  void client.GET('/hello').catch(() => undefined)
})

// What keeps the application at hand without the line; there in a secure context only.
if (import.meta.env.PROD && 'serviceWorker' in navigator) {
  addEventListener('load', () => void navigator.serviceWorker.register('/worker.js').catch(() => undefined))
}
