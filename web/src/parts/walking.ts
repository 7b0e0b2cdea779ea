import type { RouteLocationNormalizedLoaded, RouteLocationRaw } from 'vue-router'

/** Where *Walk* leads: into a playtest at the selection, or back to where it was begun. */
export function walkTarget(route: RouteLocationNormalizedLoaded): RouteLocationRaw {
  const params = { project: route.params.project }
  if (route.name !== 'playtest') {
    const from = `${String(route.name)}/${String(route.params.selected ?? '')}`
    return { name: 'playtest', params: { ...params, selected: route.params.selected || '' }, query: { ...route.query, from } }
  }
  const [place = 'plan', selected = ''] = String(route.query.from ?? 'plan/').split('/')
  const { from: _from, ...query } = route.query
  void _from
  return { name: place, params: { ...params, selected }, query }
}
