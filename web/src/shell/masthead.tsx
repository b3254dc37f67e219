/** The masthead: the places, the field to find or write, and the person. */
import { DropdownMenu } from "radix-ui";
import { Suspense, useState } from "react";
import { Link, NavLink, useLocation, useNavigate } from "react-router";
import { ask, client } from "../data/api";
import { useMe } from "../data/hooks";
import { Menu, MenuItem, MenuLine, MenuLink } from "../parts/basics";
import { Tile } from "../parts/tile";
import { useUnread } from "../talk/notices";
import { MastheadTimer } from "../time/masthead-timer";
import { Help } from "./help";
import { Find } from "./pages";

export const Logo = () => (
  <svg width="22" height="22" viewBox="0 0 22 22" aria-hidden="true">
    <polygon points="11,1 20,6 20,16 11,21 2,16 2,6" fill="#b23a63" />
    <path
      d="M3 7.5l5 3 2.2 5.2 4.6 2.6M8 10.5l5.5-2L19 11M13.5 8.5L12 2"
      stroke="#231a24"
      strokeWidth="1.5"
      fill="none"
    />
  </svg>
);

function Place({ to, children, also }: { to: string; children: string; also?: string }) {
  return (
    <NavLink
      to={to}
      className={({ isActive }) =>
        `flex h-11 items-center font-medium hover:text-white ${
          isActive || (also && location.pathname.startsWith(also))
            ? "text-white shadow-[0_2px_0_#dc9db4]"
            : "text-mast-text"
        }`
      }
    >
      {children}
    </NavLink>
  );
}

interface PlaceLink {
  to: string;
  name: string;
  /** where it stands too */
  also?: string;
}

const PLACES: PlaceLink[] = [
  { to: "/desk", name: "Desk" },
  { to: "/work", name: "Work", also: "/p/" },
  { to: "/goals", name: "Goals" },
  { to: "/people", name: "People" },
  { to: "/reports", name: "Reports" },
];

/** The places where there is no room for all of them: the one that is open names the way to the others. */
function PlacesMenu({ places }: { places: PlaceLink[] }) {
  const { pathname } = useLocation();
  const here = places.find(({ to, also }) => pathname.startsWith(to) || (also && pathname.startsWith(also)));
  return (
    <Menu
      trigger={
        <button type="button" className="flex h-11 flex-none items-center font-medium text-white md:hidden">
          {here?.name ?? "Places"} ▾
        </button>
      }
    >
      {places.map((one) => (
        <MenuLink key={one.to} to={one.to} chosen={one === here}>
          {one.name}
        </MenuLink>
      ))}
    </Menu>
  );
}

/** How many notices are not read, and the way to them. */
function NoticesLink() {
  const unread = useUnread();
  return (
    <NavLink
      to="/notices"
      className={({ isActive }) =>
        `flex h-11 flex-none items-center gap-1.5 font-medium hover:text-white ${isActive ? "text-white shadow-[0_2px_0_#dc9db4]" : unread ? "text-white" : "text-mast-text"}`
      }
    >
      {unread > 0 && (
        <span className="min-w-5 bg-[#b23a63] px-1 text-center text-[11.5px] font-semibold text-white">
          {unread > 99 ? "99+" : unread}
        </span>
      )}{" "}
      {/* Said in full where there is only room for the number. */}
      <span className={unread > 0 ? "max-sm:sr-only" : ""}>{unread === 1 ? "notice" : "notices"}</span>
      {unread > 0 && <span className="sr-only"> not read</span>}
    </NavLink>
  );
}

export function Masthead() {
  const me = useMe();
  const navigate = useNavigate();
  const [menu, setMenu] = useState(false);
  const places = PLACES.filter((one) => one.to !== "/people" || me.person.role !== "guest");
  return (
    <header className="flex h-11 flex-none items-center gap-4 bg-mast px-3 text-mast-text sm:gap-6 sm:px-[18px]">
      <Link
        to="/work"
        className="flex items-center gap-2 font-head text-[16px] font-semibold text-white"
        aria-label="Rhodonite, all work"
      >
        <Logo />
        <span className="hidden sm:inline">Rhodonite</span>
      </Link>
      <nav aria-label="Places" className="flex gap-6 max-md:hidden">
        {places.map((one) => (
          <Place key={one.to} to={one.to} also={one.also}>
            {one.name}
          </Place>
        ))}
      </nav>
      <PlacesMenu places={places} />
      <Suspense fallback={<div className="ml-auto h-7 w-[330px] bg-mast-2" />}>
        <Find />
      </Suspense>
      <MastheadTimer />
      <NoticesLink />
      <Help />
      <Menu
        align="end"
        open={menu}
        onOpenChange={setMenu}
        trigger={
          <button type="button" className="flex-none" aria-label={`${me.person.name}: account`}>
            <Tile person={me.person} label={false} />
          </button>
        }
      >
        <DropdownMenu.Label className="px-2 py-1">
          <b className="block font-semibold">{me.person.name}</b>
          <span className="text-ink-2">
            {me.person.role}, {me.organisation}
          </span>
        </DropdownMenu.Label>
        <MenuLine />
        <MenuItem onSelect={() => navigate("/account")}>Password and keys</MenuItem>
        {me.person.role === "administrator" && (
          <MenuItem onSelect={() => navigate("/people/sent")}>Dispatch tray</MenuItem>
        )}
        <MenuItem
          onSelect={async () => {
            await ask(client.DELETE("/api/session"));
            window.location.assign("/");
          }}
        >
          Sign out
        </MenuItem>
      </Menu>
    </header>
  );
}
