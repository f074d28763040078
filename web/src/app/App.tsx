import CssBaseline from "@mui/material/CssBaseline";
import { ThemeProvider } from "@mui/material/styles";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { SnackbarProvider } from "notistack";
import { lazy, Suspense } from "react";
import { createBrowserRouter, RouterProvider } from "react-router";
import { RackPage } from "../rack/RackPage";
import { theme } from "../theme/theme";

const FloorPage = lazy(() => import("../floor/FloorPage").then((module) => ({ default: module.FloorPage })));

const cache = new QueryClient({ defaultOptions: { queries: { refetchOnWindowFocus: false, retry: 2 } } });

const router = createBrowserRouter([
  { path: "/", element: <RackPage /> },
  {
    path: "/design/:design",
    element: (
      <Suspense fallback={null}>
        <FloorPage />
      </Suspense>
    ),
  },
  { path: "*", element: <RackPage /> },
]);

export function App() {
  return (
    <ThemeProvider theme={theme}>
      <CssBaseline />
      <QueryClientProvider client={cache}>
        <SnackbarProvider maxSnack={3} autoHideDuration={6000} anchorOrigin={{ vertical: "top", horizontal: "center" }}>
          <RouterProvider router={router} />
        </SnackbarProvider>
      </QueryClientProvider>
    </ThemeProvider>
  );
}
