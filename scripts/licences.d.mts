export interface ShippedPackage {
  name: string
  version: string
  licence: string
  maker: string
  url: string
  text: string
}
export function isAccepted(licence: string): boolean
export function shippedPackages(): Promise<ShippedPackage[]>
export function licenceFiles(packages: readonly { name: string; licence: string }[]): Promise<Record<string, string>>
