declare module 'gltf-validator' {
  export interface ValidationReport {
    readonly issues: {
      readonly numErrors: number
      readonly numWarnings: number
      readonly messages: readonly { readonly code: string; readonly message: string; readonly severity: number; readonly pointer: string }[]
    }
  }
  export function validateBytes(bytes: Uint8Array, options?: { maxIssues?: number; ignoredIssues?: readonly string[] }): Promise<ValidationReport>
}
