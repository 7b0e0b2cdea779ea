import type { Fields } from '@/parts/fields'

export const PLAYER: Fields = {
  radius_m: { label: 'radius', step: 0.05, lowest: 0.05 },
  speed_mps: { label: 'speed', lowest: 0.1 },
  eyes_m: { label: 'eyes', lowest: 0.1 },
}
export const CAMERA: Fields = {
  view_m: { label: 'view', step: 1 },
  look_ahead_m: { label: 'look ahead' },
  inside_area: { label: 'inside', either: ['stays inside the area', 'follows anywhere'] },
  behind_s: { label: 'behind', step: 0.05 },
}
export const USUAL: Fields = {
  most_put: { label: 'most copies' },
  prompt_s: { label: 'prompt seconds', step: 0.05 },
}
export const PROJECT: Fields = {
  name: { label: 'project name' },
  money_name: { label: 'money' },
  experience_levels: {
    label: 'experience levels',
    said: (v) => (v as number[]).join(', ') || 'no sum',
    typed: (v) => (v as number[]).join(', '),
    kept: (typed) => {
      const found = typed.split(/[ ,;]+/).map(Number).filter((n) => Number.isInteger(n) && n > 0)
      return [...new Set(found)].sort((a, b) => a - b)
    },
  },
}
