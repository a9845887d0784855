// `./check` tries the same random cases every time, so that a change is judged by what it changed; `npm run soak`
// tries new ones, and many more.
import fc from 'fast-check'

if (!process.env.SOAK) fc.configureGlobal({ seed: 20_261_123 })
