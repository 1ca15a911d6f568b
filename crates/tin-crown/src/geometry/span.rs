//! Heights: the third dimension of upright prisms.

use serde::Serialize;

use super::{Interval, TOUCH};

/// From one height to another.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
pub struct HeightSpan {
    /// The lower end.
    pub low: f64,
    /// The upper end.
    pub high: f64,
}

impl HeightSpan {
    /// From one height to another.
    pub const fn new(low: f64, high: f64) -> HeightSpan {
        HeightSpan { low, high }
    }

    /// The same so much higher.
    #[must_use]
    pub fn moved(self, by: f64) -> HeightSpan {
        HeightSpan::new(self.low + by, self.high + by)
    }

    /// The same, so many times as high as seen from its owner's height.
    #[must_use]
    pub fn scaled(self, times: f64) -> HeightSpan {
        HeightSpan::new(self.low * times, self.high * times)
    }

    /// The middle of it.
    pub fn middle(self) -> f64 {
        self.low + (self.high - self.low) / 2.0
    }

    /// When `moving`, set out at `offset` from `standing` and going by `path`, overlaps it: as
    /// [`sweep`](super::sweep) along one axis.
    ///
    /// ```
    /// use tin_crown::geometry::HeightSpan;
    ///
    /// let (wall, shot) = (HeightSpan::new(0.0, 10.0), HeightSpan::new(-1.0, 1.0));
    /// assert!(HeightSpan::sweep(wall, shot, 12.0, -2.0).first_moment().is_some());
    /// assert!(HeightSpan::sweep(wall, shot, 12.0, 0.0).first_moment().is_none());
    /// ```
    pub fn sweep(standing: HeightSpan, moving: HeightSpan, offset: f64, path: f64) -> Interval {
        let (low, high) = (
            standing.low - moving.high + TOUCH,
            standing.high - moving.low - TOUCH,
        );
        Interval::slab(offset, path, low, high)
    }

    /// A time of overlap in the plane, cut to that in height. One that says no height reaches through all.
    pub(crate) fn cut(
        time: Interval,
        standing: Option<HeightSpan>,
        moving: Option<HeightSpan>,
        offset: f64,
        path: f64,
    ) -> Interval {
        match (standing, moving) {
            (Some(standing), Some(moving)) => {
                time.and(HeightSpan::sweep(standing, moving, offset, path))
            }
            _ => time,
        }
    }

    /// How far the second is above the first; negative below, 0 where they overlap or one says no height.
    pub(crate) fn apart(first: Option<HeightSpan>, second: Option<HeightSpan>) -> f64 {
        match (first, second) {
            (Some(first), Some(second)) if second.low > first.high => second.low - first.high,
            (Some(first), Some(second)) if first.low > second.high => second.high - first.low,
            _ => 0.0,
        }
    }

    /// Whether two overlap, the second `offset` above the first. One that says no height reaches through
    /// all.
    pub fn meet(standing: Option<HeightSpan>, moving: Option<HeightSpan>, offset: f64) -> bool {
        match (standing, moving) {
            (Some(standing), Some(moving)) => {
                HeightSpan::sweep(standing, moving, offset, 0.0).is_some_time()
            }
            _ => true,
        }
    }
}
