/** The plan of a site. */
export const plan = {
  title: 'Plan',
  place: 'Draw and place',
  upload: 'Upload a picture',
  removePicture: 'Remove the picture',
  hint: 'Drag a door or an area, or move it with the arrow keys; Shift with them, or its corner, gives an area its size. Delete takes it off the plan.',
  area: 'Area {name}',
  undrawn: 'Areas that are not drawn',
  draw: 'Draw {name}',
  silent: 'its controller does not answer',
  of: 'Plan of {name}',
  unplaced: 'Doors without a place',
  put: 'Put {name} on the plan',
  empty: 'No door has a place yet.',
  click: 'Choose a door to see who went through it, and to act on it.',
  last: 'last {name}',
  about: '{count} door | {count} doors',
}
