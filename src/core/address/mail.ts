/** An e-mail address anywhere in a text: good enough to see that one stands where none belongs. */
export const mail = /[^\s@,;<>()]+@[^\s@,;<>()]+\.[a-z]{2,}/i
