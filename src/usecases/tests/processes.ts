import type { ChildProcess } from 'node:child_process'

/** Ends a process by a signal, and waits until it is gone; one that has failed before is a fault, one that is done is not. */
export async function end(child: ChildProcess, signal: 'SIGKILL' | 'SIGTERM'): Promise<void> {
  if (child.exitCode === 0) return
  if (child.exitCode !== null || child.signalCode !== null)
    throw new Error(`${child.spawnargs.join(' ')} has failed by itself (${child.exitCode ?? child.signalCode}).`)
  const gone = new Promise((resolve) => child.once('exit', resolve))
  child.kill(signal)
  await gone
}
