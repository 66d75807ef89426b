# Not tried: no container could be run where this was written. The steps are those of the README.

FROM node:20-bookworm AS build
WORKDIR /ledger
# it installs the packages too
COPY . .
RUN npm run build

FROM node:20-bookworm-slim
WORKDIR /ledger
COPY --from=build --chown=node:node /ledger /ledger
RUN mkdir -p /data && chown node:node /data
USER node
ENV HOST=0.0.0.0 PORT=4180 JAUNTY_DATA=/data NODE_ENV=production
EXPOSE 4180
# `JAUNTY_TOKEN` must be given: the server is open to others
HEALTHCHECK --interval=10s --timeout=4s --start-period=60s \
  CMD ["node", "-e", "fetch(`http://127.0.0.1:${process.env.PORT}/api/health`).then((answer) => process.exit(answer.ok ? 0 : 1), () => process.exit(1))"]
CMD ["node", "--initial-old-space-size=64", "scripts/start.mjs"]
