/** A table that scrolls with the page around it, so that its head can stay in sight. */
export const unboxed = { tableContainer: { style: { overflow: 'visible' } } }
