import { askOutside } from '#platform/ask-outside'
import type { Deployer } from './deployer.js'

/** The deployer stand-in. */
export function makeHttpDeployer(baseUrl: string): Deployer {
  return {
    deploy: async (input) => {
      await askOutside(baseUrl, '/api/deployments', input)
    },
  }
}
