//! All tests in the browser in one program: it is linked once, and its tests share the processors.

mod accessible;
mod by_hand;
mod colour_tools;
mod colour_views;
mod drawing;
mod ease;
mod held;
mod intake;
mod laying;
mod load;
mod many_regions;
mod nothing_lost;
mod other_readers;
mod parts;
mod plan;
mod plan_block;
mod plan_settings;
mod prints;
mod rehearsing;
mod right_through;
mod sliced;
mod stacking;
mod whole_line;
