import {
  mdiAccountVoice, mdiBarrel, mdiBell, mdiBookOpenPageVariant, mdiBottleTonicOutline, mdiBug, mdiCartOutline, mdiClipboardTextOutline,
  mdiContentCut, mdiDesk, mdiDoor, mdiElectricSwitch, mdiEmailSealOutline, mdiFlowerTulipOutline, mdiGate, mdiGrass, mdiHandBackLeftOffOutline,
  mdiHanger, mdiKeyVariant, mdiLadder, mdiLampOutline, mdiMonitorDashboard, mdiPackageVariant, mdiPackageVariantClosed,
  mdiPlusBoxMultipleOutline, mdiSackOutline, mdiSeedOutline, mdiSelectionEllipse, mdiShapeOutline, mdiShipWheel, mdiWalk, mdiWaves,
} from '@mdi/js'

const PATHS: Record<string, string> = {
  bell: mdiBell, lamp: mdiLampOutline, book: mdiBookOpenPageVariant, wheel: mdiShipWheel, door: mdiDoor, gate: mdiGate,
  talk: mdiAccountVoice, walker: mdiWalk, switch: mdiElectricSwitch, item: mdiPackageVariantClosed, crate: mdiPackageVariant,
  board: mdiClipboardTextOutline, shape: mdiShapeOutline, key: mdiKeyVariant, press: mdiBarrel, console: mdiMonitorDashboard,
  zone: mdiSelectionEllipse, hands_off: mdiHandBackLeftOffOutline, spawner: mdiPlusBoxMultipleOutline, moth: mdiBug, bag: mdiSackOutline,
  rack: mdiHanger, pod: mdiSeedOutline, vines: mdiGrass, flower: mdiFlowerTulipOutline, trolley: mdiCartOutline, ladder: mdiLadder,
  desk: mdiDesk, water: mdiWaves, hook: mdiContentCut, letter: mdiEmailSealOutline, oil: mdiBottleTonicOutline,
}

/** The names under which icons can be chosen. */
export const ICON_NAMES: readonly string[] = Object.keys(PATHS).sort()

/** The path of an icon by its name in the project; unknown names show the plain shape. */
export function iconPath(name: string): string {
  return PATHS[name] ?? mdiShapeOutline
}
