import {
  mdiAccountVoice, mdiBell, mdiBookOpenPageVariant, mdiClipboardTextOutline, mdiDoor, mdiElectricSwitch, mdiKeyVariant,
  mdiLampOutline, mdiPackageVariantClosed, mdiShapeOutline, mdiShipWheel, mdiWalk,
} from '@mdi/js'

const PATHS: Record<string, string> = {
  bell: mdiBell, lamp: mdiLampOutline, book: mdiBookOpenPageVariant, wheel: mdiShipWheel, door: mdiDoor,
  talk: mdiAccountVoice, walker: mdiWalk, switch: mdiElectricSwitch, item: mdiPackageVariantClosed,
  board: mdiClipboardTextOutline, shape: mdiShapeOutline, key: mdiKeyVariant,
}

/** The path of an icon by its name in the project; unknown names show the plain shape. */
export function iconPath(name: string): string {
  return PATHS[name] ?? mdiShapeOutline
}
