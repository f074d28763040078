"""Settings of the application, from the environment (WANDER_...)."""

from __future__ import annotations

from pathlib import Path

from platformdirs import user_data_path
from pydantic import Field
from pydantic_settings import BaseSettings, SettingsConfigDict


class Settings(BaseSettings):
    model_config = SettingsConfigDict(env_prefix="WANDER_")

    data: Path = Field(default_factory=lambda: user_data_path("wander"), description="Folder of the database and the cache.")
    samples: Path | None = Field(default=None, description="Folder of the demo designs, where it is not the one that ships with Wander.")
    token: str = Field(
        default="", description="Demanded from every client. Serving beyond this machine makes one at every start where none is given."
    )
    hosts: tuple[str, ...] = Field(default=("127.0.0.1", "localhost", "[::1]"), description="Host names that are answered.")
    shape_workers: int = Field(default=1, ge=1, le=16, description="Processes that shape bodies; each serves several designs.")
    step_seconds: float = Field(default=30.0, gt=0, description="A step that takes longer is given up.")
    export_seconds: float = Field(default=180.0, gt=0, description="An export that takes longer is given up.")
    build_seconds: float = Field(default=300.0, gt=0, description="A whole design that takes longer is given up at the step that it is at.")
    reading_seconds: float = Field(default=10.0, gt=0, description="How long the reading of a file that somebody brought may take.")
    shape_worker_keeps_megabytes: int = Field(default=380, ge=64, description="A worker of shapes that holds more forgets older results.")
    exact_worker_keeps_megabytes: int = Field(default=680, ge=64, description="The same for a worker that has the kernel.")
    results_megabytes: int = Field(default=512, ge=16, description="Bound of the folder of results that all workers share.")
    worker_megabytes: int = Field(default=4096, ge=256, description="Address space that a worker may use on top of what it starts with.")
    cache_megabytes: int = Field(default=512, ge=16, description="Bound of the folder of meshes.")
    largest_upload: int = Field(default=16 * 1024 * 1024, description="Bytes that one request may bring.")
    patience_seconds: float = Field(default=20.0, gt=0, description="How long half a request may stand there.")
    faults: bool = Field(default=False, description="Test hook: steps named fault:crash, fault:hang or fault:memory do what they say.")

    @property
    def database(self) -> Path:
        return self.data / "wander.sqlite3"

    @property
    def cache(self) -> Path:
        return self.data / "cache"
