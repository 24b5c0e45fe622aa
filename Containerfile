# Nest Crate on a MariaDB and a store that you keep (docs/operating.md):
#   podman build -t nest-crate .
#   podman run --env-file nest-crate.env -p 8460:8460 -v nest-crate-audio:/srv/nest-crate nest-crate
FROM debian:12-slim AS build
RUN apt-get update && apt-get install -y --no-install-recommends python3 python3-venv nodejs npm ca-certificates
WORKDIR /opt/nest-crate
COPY requirements.txt pyproject.toml README.md ./
COPY nest_crate nest_crate
RUN python3 -m venv .venv && .venv/bin/pip install --no-cache-dir --require-hashes -r requirements.txt && .venv/bin/pip install --no-cache-dir --no-deps -e .
COPY frontend frontend
RUN cd frontend && npm ci && npx vite build && rm -rf node_modules
COPY docs docs
COPY tools tools
COPY mkdocs.yml CHANGELOG.md ./
RUN .venv/bin/mkdocs build --quiet
RUN .venv/bin/nest-crate warm

FROM debian:12-slim
RUN apt-get update && apt-get install -y --no-install-recommends python3 && rm -rf /var/lib/apt/lists/* && useradd --uid 8460 --create-home --home-dir /srv/nest-crate nest-crate
COPY --from=build --chown=8460:8460 /opt/nest-crate /opt/nest-crate
USER 8460
WORKDIR /opt/nest-crate
ENV NEST_CRATE_RUN_FOLDER=/tmp/nest-crate NEST_CRATE_AUDIO_URL=file:///srv/nest-crate/audio
VOLUME ["/srv/nest-crate"]
EXPOSE 8460
STOPSIGNAL SIGINT
HEALTHCHECK --interval=30s --timeout=5s --start-period=120s CMD ["python3", "-c", "import urllib.request as u; u.urlopen('http://127.0.0.1:8460/api/health', timeout=4)"]
CMD [".venv/bin/nest-crate", "serve", "--host", "0.0.0.0", "--port", "8460"]
