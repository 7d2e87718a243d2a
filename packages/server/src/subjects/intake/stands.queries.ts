// Of readStand; by the primary key; one row.
export const GET_FAULT_STAND = 'SELECT stand FROM fault_stand WHERE number = @number'
