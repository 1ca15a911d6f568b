//! The library driven through its public interface.
#![expect(
    clippy::too_many_lines,
    reason = "a scenario is read from top to bottom"
)]

mod accounts;
mod advice;
mod afterlife;
mod aloft;
mod ambush;
mod ambushes;
mod ammo;
mod around_a_drill;
mod assertions;
mod attacks;
mod axes;
mod bad_afterlives;
mod bad_ambushes;
mod bad_fights;
mod bad_input;
mod begins;
mod contact;
mod doors;
mod drill_files;
mod drives;
mod duels;
mod dying;
mod edges;
mod examples;
mod expectable;
mod expectations;
mod faults;
mod fights;
mod findings_page;
mod geometry;
mod guards;
mod hands;
mod heights;
mod hit_logs;
mod hits;
mod invariants;
mod judge;
mod live;
mod meets;
mod moments;
mod motion;
mod numbers;
mod oracle;
mod out_again;
mod outside;
mod played_back;
mod playing;
mod posed;
mod reference;
mod shots;
mod silences;
mod snapshots;
mod sprites;
mod stage;
mod stomp;
mod studies;
mod sweeps;
mod tallies;
mod traced;
mod tracks;
mod turning;
mod written;
