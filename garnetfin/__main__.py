"""python -m garnetfin"""

from garnetfin.processes import leave_the_folder_out

if __name__ == "__main__":
    leave_the_folder_out()
    from garnetfin.cli.main import main

    main()
