export const batches = {}

export const batchProblems = {}

export const batchActions = {}
