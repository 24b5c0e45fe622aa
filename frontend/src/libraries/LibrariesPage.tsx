import { Download, PanelLeft, Plus } from "lucide-react";
import { useState } from "react";
import { NavLink, useLocation, useNavigate, useParams } from "react-router";
import { useLibraries, mayDo } from "../api";
import { chooseFiles, chooseFolder } from "../imports";
import { ActionMenu, Companions, Drawer, Redirect, useTitle, Waiting } from "../ui";
import { FacetColumn, LibraryList, NewLibrary, SampleTable, SearchBar } from "./list";
import { Hint, lastVisit, useFound, useOthers, useSearchAddress, useSelection } from "./common";
import { BinnedSounds, CareView, MembersView, ReleasesView, SoundsView, WishesView } from "./views";
import { MapView } from "./map";
import { WorkDialog, WorkMenu } from "./work";

const VIEWS = [
  ["", "Samples"],
  ["map", "Map"],
  ["sounds", "Sounds"],
  ["releases", "Releases"],
  ["wishes", "Requests"],
  ["care", "Maintenance"],
  ["bin", "Bin"],
  ["members", "Members"],
] as const;
const OWN_VIEWS = {
  sounds: SoundsView,
  releases: ReleasesView,
  wishes: WishesView,
  care: CareView,
  members: MembersView,
};

/** The libraries at their address; without one, where one was last, else the first. */
export function LibrariesPage() {
  const { libraryId } = useParams();
  const { search } = useLocation();
  const asked = useLibraries();
  const libraries = asked.data;
  if (libraryId === undefined && asked.isPending) return <Waiting words="Opening the libraries" />;
  if (libraryId !== undefined || !libraries?.[0]) return <Shelves />;
  const last = lastVisit();
  const stands = libraries.some(({ id }) => `${id}` === last?.library) || last?.library === "";
  const first = `/libraries/${libraries[0].id}${search}`;
  return <Redirect to={last && stands && search === "" ? last.address : first} />;
}

/** The shared catalogue: libraries and facets at the left, one of a library's views at the right. */
function Shelves() {
  const { libraryId, view = "" } = useParams();
  const navigate = useNavigate();
  const libraries = useLibraries();
  const query = useSelection((state) => state.query);
  const [making, setMaking] = useState(false);
  const [columnOpen, setColumnOpen] = useState(false);
  const everywhere = libraryId === "all";
  const library = everywhere
    ? undefined
    : libraryId === undefined
      ? libraries.data?.[0]
      : libraries.data?.find(({ id }) => id === Number(libraryId));
  const wanted = everywhere ? "" : (library?.id.toString() ?? null);
  const binned = view === "bin";
  const searching = view === "" || view === "map" || binned;
  useSearchAddress(wanted, binned, searching);
  const { answer } = useFound(query, []);
  const companions = useOthers(library?.id ?? null);
  const viewWords = VIEWS.find(([path]) => path === view)?.[1];
  useTitle(viewWords, everywhere ? "All libraries" : library?.name, "Libraries");
  const Own = view in OWN_VIEWS ? OWN_VIEWS[view as keyof typeof OWN_VIEWS] : null;
  const base = `/libraries/${everywhere ? "all" : (library?.id ?? "")}`;
  return (
    <main
      id="work"
      tabIndex={-1}
      className="grid min-w-0 flex-1 grid-cols-[220px_minmax(0,1fr)] narrow:grid-cols-[minmax(0,1fr)]"
    >
      <Drawer
        side="left"
        open={columnOpen}
        onClose={() => setColumnOpen(false)}
        closeLabel="Close libraries and filters"
        className="flex min-h-0 flex-col gap-4 overflow-y-auto border-r border-line-strong bg-panel p-3 narrow:w-[240px]"
      >
        <nav aria-label="Libraries">
          <h1 className="mb-2 flex items-center justify-between font-title text-[17px] font-semibold">
            Libraries
            <button
              type="button"
              aria-label="New library"
              title="New library"
              onClick={() => setMaking(true)}
              className="grid size-7 place-items-center rounded-control text-ink-2 hover:bg-band"
            >
              <Plus size={16} aria-hidden />
            </button>
          </h1>
          <LibraryList chosen={everywhere ? "all" : (library?.id ?? null)} />
        </nav>
        {searching && <FacetColumn answer={answer} everywhere={everywhere} />}
      </Drawer>
      <section className="flex min-h-0 min-w-0 flex-col bg-sheet">
        <header className="flex h-[54px] shrink-0 items-center gap-3 border-b border-line-strong bg-panel px-4">
          <button
            type="button"
            aria-label="Libraries and filters"
            title="Libraries and filters"
            aria-expanded={columnOpen}
            onClick={() => setColumnOpen(true)}
            className="hidden size-8 shrink-0 place-items-center rounded-control border border-line-strong bg-sheet hover:bg-band narrow:grid"
          >
            <PanelLeft size={15} aria-hidden />
          </button>
          <div className="min-w-0 flex-1">
            <h2 className="truncate font-title text-[17px] leading-6 font-semibold">
              {everywhere ? "All libraries" : library?.name}
            </h2>
            <p className="truncate text-[12px] text-ink-2">
              {library &&
                [library.description, `you are ${library.role} here`].filter(Boolean).join(" · ")}
            </p>
          </div>
          <Companions companions={companions} />
          <WorkMenu />
          {mayDo(library, "sample.add") && (
            <ActionMenu
              anchor="bottom end"
              className="inline-flex min-h-8 items-center gap-1.5 rounded-control border border-line-strong bg-sheet px-2.5 whitespace-nowrap hover:bg-band"
              actions={[
                { label: "Files…", act: chooseFiles },
                { label: "A folder…", act: chooseFolder },
              ]}
            >
              <Download size={14} aria-hidden /> Import ▾
            </ActionMenu>
          )}
        </header>
        {!everywhere && library && (
          <nav
            aria-label="Views"
            className="flex shrink-0 border-b border-line bg-panel px-3 narrow:flex-wrap"
          >
            {VIEWS.map(([path, words]) => (
              <NavLink
                key={path}
                end
                to={path ? `${base}/${path}` : base}
                className={({ isActive }) =>
                  `flex min-h-8 items-center px-3 text-[13px] narrow:min-h-7 narrow:px-2 ${isActive || (path === view && path === "") ? "border-b-2 border-ink font-semibold" : "text-ink-2 hover:text-ink"}`
                }
              >
                {words}
              </NavLink>
            ))}
          </nav>
        )}
        {libraries.error && (
          <p role="alert" className="p-4 text-bad">
            {libraries.error.message}
          </p>
        )}
        {libraries.data && !library && !everywhere && (
          <Hint words="This library does not exist, or you are not a member." />
        )}
        {searching && (library || everywhere) && <SearchBar answer={answer} />}
        {binned && library && <BinnedSounds library={library} />}
        {(view === "" || binned) && (library || everywhere) && <SampleTable library={library} />}
        {view === "map" && library && <MapView library={library} />}
        {Own && library && <Own library={library} />}
      </section>
      <WorkDialog />
      <NewLibrary
        open={making}
        onClose={() => setMaking(false)}
        onMade={(id) => void navigate(`/libraries/${id}`)}
      />
    </main>
  );
}
