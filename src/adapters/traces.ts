import { type Attributes, SpanKind, SpanStatusCode, trace } from '@opentelemetry/api'

/*
 * What took how long, for whoever collects traces (OpenTelemetry, over OTLP). Where nobody does, this does nothing. No
 * names, addresses or numbers of anybody's orders are in them: what was called, where it went, and how it ended.
 */

const tracer = trace.getTracer('gharry')

/** Does work as a span. */
export const traced = <T>(
  name: string,
  attributes: Attributes,
  work: () => Promise<T>,
  kind: keyof typeof SpanKind = 'INTERNAL',
): Promise<T> =>
  tracer.startActiveSpan(name, { attributes, kind: SpanKind[kind] }, async (span) => {
    try {
      return await work()
    } catch (error) {
      span.setStatus({ code: SpanStatusCode.ERROR })
      throw error
    } finally {
      span.end()
    }
  })

/** Adds to the span that is under way. */
export const noteInTrace = (attributes: Attributes): void => void trace.getActiveSpan()?.setAttributes(attributes)

/**
 * Sends traces to a collector from now on, such as `http://127.0.0.1:4318`; gives what ends it, with all that waits
 * sent.
 */
export async function beginTraces(collector: string, service: string): Promise<() => Promise<void>> {
  // Large, and for few: loaded where it is asked for.
  const [{ NodeTracerProvider, BatchSpanProcessor }, { OTLPTraceExporter }, { resourceFromAttributes }] =
    await Promise.all([
      import('@opentelemetry/sdk-trace-node'),
      import('@opentelemetry/exporter-trace-otlp-http'),
      import('@opentelemetry/resources'),
    ])
  const exporter = new OTLPTraceExporter({ url: `${collector.replace(/\/$/, '')}/v1/traces` })
  const provider = new NodeTracerProvider({
    resource: resourceFromAttributes({ 'service.name': service }),
    spanProcessors: [new BatchSpanProcessor(exporter, { scheduledDelayMillis: 2000 })],
  })
  provider.register()
  return () => provider.shutdown()
}
