import CssBaseline from "@mui/material/CssBaseline";
import { ThemeProvider } from "@mui/material/styles";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { createBrowserRouter, RouterProvider } from "react-router";
import { Refused } from "../api/problems";
import { queries } from "../api/queries";
import { listenAhead } from "../api/socket";
import { RackPage } from "../rack/RackPage";
import { theme } from "../theme/theme";
import { Stumbled } from "./Stumbled";
import { Words } from "./Words";

const loadFloor = () => import("../floor/FloorPage");

/** What was refused is refused again; what did not arrive may arrive. */
const retry = (tried: number, error: Error) => tried < 2 && !(error instanceof Refused);
const cache = new QueryClient({ defaultOptions: { queries: { refetchOnWindowFocus: false, retry } } });

// who comes for a design gets its page and its data while this page is still being set up
const wanted = /^\/design\/([^/]+)/.exec(location.pathname)?.[1];
if (wanted) {
  listenAhead(wanted);
  void loadFloor();
  void cache.prefetchQuery(queries.head(wanted));
}

const router = createBrowserRouter([
  { path: "/", element: <RackPage />, errorElement: <Stumbled /> },
  {
    path: "/design/:design",
    errorElement: <Stumbled />,
    // not by a boundary that waits: React holds back what it waited for, so that a page would not flicker
    lazy: async () => ({ Component: (await loadFloor()).FloorPage }),
    hydrateFallbackElement: <></>,
  },
  { path: "*", element: <RackPage /> },
]);

export function App() {
  return (
    <ThemeProvider theme={theme}>
      <CssBaseline />
      <QueryClientProvider client={cache}>
        <Words>
          <RouterProvider router={router} />
        </Words>
      </QueryClientProvider>
    </ThemeProvider>
  );
}
