import { warmUp } from './language/client'

// The typed editor needs a second to get ready: where it is wanted, that begins before the page itself is loaded.
if (location.pathname.startsWith('/write')) warmUp()
void import('./app')
