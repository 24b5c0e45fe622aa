"""Work outside the web processes: renders that someone waits for (``rendering``), and long work on
Dask (``foreman``). What is to be done of long work lies in the catalogue's tables; nothing here is
lost with a process."""
