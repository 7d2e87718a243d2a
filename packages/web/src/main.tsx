import '@fontsource-variable/atkinson-hyperlegible-next'
import '@fontsource-variable/atkinson-hyperlegible-mono'
import '@fontsource-variable/source-serif-4'
import './styles.css'
import { setupListeners } from '@reduxjs/toolkit/query'
import { createRoot } from 'react-dom/client'
import { Provider } from 'react-redux'
import { App } from '#app/App'
import { store } from '#shared/lib/store'

const root = document.getElementById('root')
if (!root) throw new Error('the page has no root')
setupListeners(store.dispatch)
createRoot(root).render(
  <Provider store={store}>
    <App />
  </Provider>,
)
