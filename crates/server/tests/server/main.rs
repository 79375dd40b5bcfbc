//! All tests of the server in one program: it is linked once, and its tests share the processors.

mod api;
mod colouring;
mod copies;
mod described;
mod hardened;
mod laying;
mod loading;
mod nothing_lost;
mod older;
mod parts;
mod planning;
mod projects;
mod refusals;
mod releasing;
mod runs;
mod serving;
mod shelving;
mod sliced;
mod staging;
mod turns;
