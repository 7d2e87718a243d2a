/** What brings releases into environments. Its answer means "asked"; the deployment's event tells that it runs. */
export interface Deployer {
  deploy(input: {
    deploymentId: string
    service: string
    release: string
    tag: string
    sha: string
    environment: string
    by: string
  }): Promise<void>
}
