"""Where a study computes: in processes of this machine, or at the address of a Dask scheduler; the same cases either
way.
"""

import multiprocessing
import os
from collections.abc import Iterator
from concurrent.futures import Executor, ProcessPoolExecutor
from contextlib import contextmanager

from garnetfin.core.errors import GarnetfinError
from garnetfin.processes import end_with_pool

CONNECT_S = 10
TRUST = "It gets the whole project and may run code here: only a scheduler of your own"


@contextmanager
def workers(address: str = "", processes: int = 0) -> Iterator[Executor]:
    """An executor for `run_study`.

    Raises GarnetfinError where a scheduler cannot be reached or the package for it is not there.
    """
    if address:
        with _dask(address) as executor:
            yield executor
        return
    count = processes or os.cpu_count() or 1
    os.environ["PYTHONSAFEPATH"] = "1"  # a process of the pool takes nothing from the current folder
    pool = ProcessPoolExecutor(count, mp_context=multiprocessing.get_context("spawn"), initializer=end_with_pool)
    try:
        yield pool
    finally:
        pool.shutdown(wait=True, cancel_futures=True)


@contextmanager
def _dask(address: str) -> Iterator[Executor]:
    try:
        from distributed import Client
    except ImportError as error:
        raise GarnetfinError(
            "A scheduler needs the package “distributed”",
            remedy="Install garnetfin[study], or leave the address empty to compute on this machine",
        ) from error
    try:
        client = Client(address, timeout=CONNECT_S)
    except (OSError, ValueError, TimeoutError) as error:
        raise GarnetfinError(
            f"No scheduler answers at {address}",
            remedy="Check the address, such as tcp://host:8786, or leave it empty to compute on this machine",
        ) from error
    try:
        yield client.get_executor(pure=False)
    finally:
        client.close(timeout=CONNECT_S)
