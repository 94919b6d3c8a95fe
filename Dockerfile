# Gharry as an image: built once, needs no network and no compiler when it runs. `npm run try-image` runs these steps without Docker.
FROM node:20-bookworm AS build
WORKDIR /gharry
COPY package.json package-lock.json ./
RUN npm ci --no-audit --no-fund
COPY . .
RUN npm run build
RUN npm prune --omit=dev --no-audit --no-fund

FROM node:20-bookworm-slim
WORKDIR /gharry
ENV NODE_ENV=production NEXT_TELEMETRY_DISABLED=1 GHARRY_DATA=/data GHARRY_PORT=4600 GHARRY_LISTEN=0.0.0.0
COPY --from=build /gharry/package.json /gharry/next.config.mjs ./
COPY --from=build /gharry/node_modules ./node_modules
COPY --from=build /gharry/.next ./.next
COPY --from=build /gharry/.built ./.built
COPY --from=build /gharry/scripts ./scripts
RUN mkdir -p /data && chown node:node /data
USER node
VOLUME /data
EXPOSE 4600
HEALTHCHECK --interval=15s --timeout=5s --start-period=30s CMD ["node", "scripts/healthy.mjs"]
# Server, worker and keeper of the backups in one; compose.yaml starts each by itself.
CMD ["node", "scripts/serve.mjs"]
