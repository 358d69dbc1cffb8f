# Pivrel from its wheel ("make wheel" first): podman build -t pivrel . ; then
# podman run -p 8017:8017 -v pivrel:/data pivrel. It prints the address with the token that lets visitors in.
FROM python:3.11-slim
# What the CAD kernel draws with, though nothing is drawn here.
RUN apt-get update && apt-get install -y --no-install-recommends libgl1 libegl1 libx11-6 && rm -rf /var/lib/apt/lists/*
COPY dist/pivrel-*.whl /tmp/
RUN pip install --no-cache-dir "$(ls /tmp/pivrel-*.whl)[step,ifc]" && useradd --create-home pivrel && install -d -o pivrel /data
USER pivrel
VOLUME /data
EXPOSE 8017
CMD ["pivrel", "serve", "--host", "0.0.0.0", "--data", "/data"]
