/** Whether keys that are pressed here are typed into a field, or meant for what lies on top. */
export const hasOwnKeys = (target: HTMLElement): boolean =>
  !!target.closest('input:not([type=range]), textarea, [role=dialog], [role=menu], .v-overlay')

/** Whether keys that are pressed here are meant for what is edited: it has the focus, or no other control has. */
export const isFree = (target: HTMLElement): boolean =>
  !!target.closest('.lattice, .clip-rows') ||
  !target.closest('button, a, [role=spinbutton], [role=button], [role=slider], [role=tab], [role=radio]')
